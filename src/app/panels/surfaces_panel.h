#pragma once
// The project's surfaces in the desk: a list to drag from, a form for the chosen one, two side by side.
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QToolButton>
#include <QWidget>

#include "app/panels/form.h"
#include "app/shell/editor.h"

namespace app {

/// The kind of thing a drag from here carries: the surface's key, UTF-8.
inline constexpr const char* kSurfaceMime = "application/x-mellow-surface";

class SurfacesPanel : public QWidget {
    Q_OBJECT
  public:
    explicit SurfacesPanel(Editor& editor, QWidget* parent = nullptr);

  Q_SIGNALS:
    void usesAsked(const std::string& surface);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    void refresh();
    void showChosen();
    std::vector<std::string> chosen() const;
    base::Status change(const std::string& what, const std::function<base::Status(void*)>& set);
    QLayout* makeList();
    void make(bool like);
    void remove();
    void giveToSelection();

    Editor& editor_;
    QListWidget* list_;
    QLineEdit* search_;
    QLabel *empty_, *first_, *second_, *compared_;
    FieldsForm* form_;
    bool filling_ = false;
};

}  // namespace app
