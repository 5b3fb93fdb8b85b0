#pragma once
// The table in the desk: objects as rows, to be read, sorted, filtered and changed by the hundred.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>
#include <QToolButton>
#include <QTreeWidget>
#include <QWidget>

#include "app/panels/table_model.h"

namespace app {

class TablePanel : public QWidget {
    Q_OBJECT
  public:
    explicit TablePanel(Editor& editor, QWidget* parent = nullptr);

    /// Writes the rows that are shown. Errors: Io.
    base::Status exportCsv(const QString& file) const;
    /// Shows what a file would change; nothing is changed until that is accepted. Errors: of reading it.
    base::Status importCsv(const QString& file);
    void chooseExport();
    void chooseImport();
    void focusFilter();

  Q_SIGNALS:
    /// What can be done with the selected objects is to be put into it.
    void menuRequested(QMenu* menu);

  protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void makeHead(class QVBoxLayout* layout);
    void makeFind(class QVBoxLayout* layout);
    QWidget* makePreview();
    void fillColumns(class QMenu* menu);
    void fillSeenFrom(class QMenu* menu);
    void fillRowMenu(const QPoint& at);
    void rememberColumns();
    void count();
    void fromScene();
    void fromTable();
    /// The selected cells of one column, from top to bottom; empty (and said) when they are of several.
    std::vector<QModelIndex> oneColumn();
    bool write(const QString& name, const std::vector<ops::CellInput>& cells);
    void fillDown();
    void goOn();
    void replaceAll();
    void copy();
    void paste();
    void showPreview(ops::CellPlan plan, const QString& from);
    void acceptPreview();

    Editor& editor_;
    TableModel* model_;
    QLineEdit *filter_, *find_, *replace_;
    QToolButton *columns_, *seenFrom_;
    QWidget* findRow_;
    QLabel *count_, *empty_, *previewTitle_;
    QStackedWidget* pages_;
    QTableView* table_;
    QTreeWidget* changes_;
    QPushButton* accept_;
    ops::CellPlan preview_;
    bool syncing_ = false;
};

}  // namespace app
