#pragma once
// The project's records in one window: types as chips, a list, a form; new ones, copies, who uses one, its file.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QWidget>

#include "app/panels/property_rows.h"
#include "app/shell/editor.h"

namespace app {

class RecordsWindow : public QWidget {
    Q_OBJECT
  public:
    RecordsWindow(QWidget* parent, Editor& editor);
    /// Shows one, whatever its type.
    void reveal(base::ObjectId record);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void refresh();
    void refreshChips();
    void refreshList();
    void refreshForm();
    bool run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb);
    void add(bool like);
    void showUses();
    base::ObjectId current() const;

    Editor& editor_;
    QWidget* chips_;
    QLineEdit *search_, *name_;
    QTreeWidget* list_;
    QLabel *type_, *file_, *empty_;
    QWidget* form_;
    PropertyRows* rows_;
    QPushButton *new_, *like_, *delete_, *uses_;
    std::string shownType_;  // empty: all of them
    base::ObjectId wanted_;
};

}  // namespace app
