#pragma once
// The project's surfaces in the desk: a list to drag from, a form for the chosen one, two side by side.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QToolButton>
#include <QWidget>

#include "app/kit/number_field.h"
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
    void change(const std::string& what, const std::function<void(model::Surface&)>& edit);
    void make(bool like);
    void remove();
    void giveToSelection();
    void fillImages();

    Editor& editor_;
    QListWidget* list_;
    QLineEdit *search_, *name_, *hex_;
    QToolButton* wheel_;
    NumberField *roughness_, *emission_, *size_;
    QComboBox* image_;
    QLabel *empty_, *first_, *second_, *compared_;
    QWidget* form_;
    bool filling_ = false;
};

}  // namespace app
