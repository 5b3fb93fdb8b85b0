#pragma once
// The project's records, beside the view: under their types, which fold, and a form; new ones, copies, who uses one,
// its file.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QWidget>

#include "app/kit/list_and_form.h"
#include "app/panels/property_rows.h"
#include "app/shell/editor.h"

namespace app {

class RecordsWindow : public ListAndForm {
    Q_OBJECT
  public:
    RecordsWindow(QWidget* parent, Editor& editor);
    /// Shows one, whatever its type.
    void reveal(base::ObjectId record);

  Q_SIGNALS:
    /// What records of a type say is to be changed.
    void typesAsked(const QString& type);

  private:
    void makeList();
    void makeSide();
    void listen();
    void refreshList();
    QTreeWidgetItem* addHeading(const model::RecordType& type, std::size_t fits);
    void refreshForm();
    bool run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb);
    void add(bool like);
    void showUses();
    base::ObjectId current() const;
    /// The type that the current record is of, or that is current itself.
    std::string currentType() const;

    QLabel *type_, *empty_;
    QWidget* form_;
    QPushButton *new_, *like_, *delete_, *uses_;
    base::ObjectId wanted_;
};

}  // namespace app
