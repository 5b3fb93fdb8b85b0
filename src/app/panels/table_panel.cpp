#include "app/panels/table_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QSettings>
#include <QVBoxLayout>
#include <map>
#include <sstream>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "base/files.h"
#include "io/csv.h"

namespace app {

namespace {

constexpr int kMostRuns = 1000;  // Qt compares every run of selected rows with every other

QToolButton* button(const char* name, const QString& text, const QString& tip) {
    auto* b = app::button<QToolButton>(name, text, tip);
    return b;
}

}  // namespace

TablePanel::TablePanel(Editor& editor, QWidget* parent)
    : QWidget(parent), editor_(editor), model_(new TableModel(editor, this)) {
    setObjectName("panel");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 4, 10, 4);
    layout->setSpacing(4);
    makeHead(layout);
    makeFind(layout);
    table_ = new QTableView;
    table_->setObjectName("tableView");
    table_->setAccessibleName(tr("Objects as a table"));
    table_->setModel(model_);
    table_->setSortingEnabled(true);
    table_->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
    table_->horizontalHeader()->setSortIndicatorClearable(true);
    table_->horizontalHeader()->setDefaultSectionSize(84);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->verticalHeader()->setDefaultSectionSize(24);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    table_->verticalHeader()->setHighlightSections(false);
    table_->setShowGrid(false);
    table_->setAlternatingRowColors(false);
    table_->setContextMenuPolicy(Qt::CustomContextMenu);
    table_->installEventFilter(this);
    pages_ = new QStackedWidget;
    pages_->addWidget(table_);
    pages_->addWidget(makePreview());
    layout->addWidget(pages_, 1);
    layout->addWidget(empty_ = new QLabel);
    empty_->setObjectName("quiet");
    const QStringList first = {"name", "kind", "item", "x", "y", "z", "turnY", "sizeX", "children"};
    model_->setColumns(QSettings().value("table/columns", first).toStringList());

    connect(filter_, &QLineEdit::textChanged, model_, &TableModel::setFilter);
    connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] { syncing_ = true; });
    connect(model_, &QAbstractItemModel::modelReset, this, [this] {
        syncing_ = false;
        for (int c = 0; c < model_->columnCount(); ++c)
            if (model_->columns()[static_cast<std::size_t>(c)].key == "name") table_->setColumnWidth(c, 180);
        fromScene();
        count();
    });
    connect(table_, &QWidget::customContextMenuRequested, this, &TablePanel::fillRowMenu);
    connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &TablePanel::fromTable);
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        if (isVisible()) fromScene();
    });
    connect(&editor_, &Editor::sceneShown, this, [this] {
        pages_->setCurrentIndex(0);
        model_->reload();
    });
    connect(&editor_, &Editor::libraryChanged, this, [this] {
        if (isVisible()) model_->reload();
    });
}

void TablePanel::makeHead(QVBoxLayout* layout) {
    auto* row = new FoldingBar;
    filter_ = new QLineEdit;
    filter_->setObjectName("tableFilter");
    filter_->setAccessibleName(tr("Filter the table"));
    filter_->setPlaceholderText(tr("name, kind:Lantern, x=2..5, oil<1"));
    filter_->setToolTip(tr("Words as in the Roster; for any column also x=2..5, turnY>90, state=op*"));
    filter_->setClearButtonEnabled(true);
    filter_->setMaximumWidth(280);
    filter_->setMinimumWidth(150);
    row->add(filter_, 2);
    auto menuButton = [&](const char* name, const QString& text, const QString& tip, auto fill) {
        QToolButton* b = button(name, text, tip);
        b->setPopupMode(QToolButton::InstantPopup);
        auto* menu = new QMenu(b);
        connect(menu, &QMenu::aboutToShow, this, [this, menu, fill] {
            menu->clear();
            (this->*fill)(menu);
        });
        b->setMenu(menu);
        row->addFolding(b);
        return b;
    };
    columns_ = menuButton("tableColumns", tr("Columns"), tr("Which columns are shown"), &TablePanel::fillColumns);
    seenFrom_ = menuButton("tableSeenFrom", tr("From the world"), tr("Where positions and turns are counted from"),
                           &TablePanel::fillSeenFrom);
    auto act = [&](const char* name, const QString& text, const QString& tip, auto run) {
        QToolButton* b = button(name, text, tip);
        connect(b, &QToolButton::clicked, this, run);
        row->addFolding(b);
        return b;
    };
    act("tableFill", tr("Fill down"), tr("The selected cells of a column become as the topmost one (Ctrl+Shift+Down)"),
        [this] { fillDown(); });
    act("tableSeries", tr("Series"),
        tr("The selected cells of a column go on as the first one, or the first two, begin: 1, 2, 3 or Post 1, Post 2"),
        [this] { goOn(); });
    QToolButton* find = act("tableFind", tr("Replace"),
                            tr("Find and replace, in the selected cells, else in the whole column of the current one"),
                            [this](bool on) {
                                findRow_->setVisible(on);
                                if (on) find_->setFocus();
                            });
    find->setCheckable(true);
    row->addStretch();
    row->add(count_ = new QLabel);
    count_->setObjectName("faint");
    act("tableImport", tr("CSV in"), tr("Reads a CSV file and shows what it would change"), [this] { chooseImport(); });
    act("tableExport", tr("CSV out"), tr("Writes the rows and columns that are shown, with ids"),
        [this] { chooseExport(); });
    layout->addWidget(row);
}

void TablePanel::makeFind(QVBoxLayout* layout) {
    findRow_ = new QWidget;
    auto* row = new QHBoxLayout(findRow_);
    row->setContentsMargins(0, 0, 0, 0);
    auto field = [&](const char* name, const QString& what) {
        auto* edit = new QLineEdit;
        edit->setObjectName(QLatin1String(name));
        edit->setPlaceholderText(what);
        edit->setAccessibleName(what);
        edit->setMaximumWidth(240);
        row->addWidget(edit);
        return edit;
    };
    find_ = field("tableFindText", tr("Find"));
    replace_ = field("tableReplaceText", tr("Replace with"));
    auto* all = new QPushButton(tr("Replace all"));
    all->setObjectName("tableReplaceAll");
    row->addWidget(all);
    row->addStretch(1);
    connect(all, &QPushButton::clicked, this, &TablePanel::replaceAll);
    connect(replace_, &QLineEdit::returnPressed, this, &TablePanel::replaceAll);
    layout->addWidget(findRow_);
    findRow_->hide();
}

QWidget* TablePanel::makePreview() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    row->addWidget(previewTitle_ = new QLabel, 1);
    previewTitle_->setObjectName("cardTitle");
    auto* drop = new QPushButton(tr("Forget"));
    drop->setObjectName("tablePreviewDrop");
    drop->setToolTip(tr("Changes nothing"));
    accept_ = new QPushButton;
    accept_->setObjectName("tablePreviewAccept");
    accept_->setProperty("primary", true);
    row->addWidget(drop);
    row->addWidget(accept_);
    column->addLayout(row);
    changes_ = new QTreeWidget;
    changes_->setObjectName("tablePreview");
    changes_->setAccessibleName(tr("What would change"));
    changes_->setHeaderLabels({tr("Where"), tr("Column"), tr("Now"), tr("Would be")});
    changes_->setRootIsDecorated(false);
    changes_->setUniformRowHeights(true);
    changes_->header()->resizeSection(0, 220);
    column->addWidget(changes_, 1);
    connect(drop, &QPushButton::clicked, this, [this] { pages_->setCurrentIndex(0); });
    connect(accept_, &QPushButton::clicked, this, &TablePanel::acceptPreview);
    return page;
}

void TablePanel::showEvent(QShowEvent*) {
    model_->setLookedAt(true);
}

void TablePanel::hideEvent(QHideEvent*) {
    model_->setLookedAt(false);
}

void TablePanel::focusFilter() {
    filter_->setFocus();
    filter_->selectAll();
}

void TablePanel::fillColumns(QMenu* menu) {
    menu->setToolTipsVisible(true);
    QStringList shown;
    for (const ops::TableColumn& c : model_->columns()) shown << QString::fromStdString(c.key);
    for (const ops::TableColumn& column : model_->known()) {
        const QString key = QString::fromStdString(column.key);
        QAction* action = menu->addAction(QString::fromStdString(column.label));
        action->setCheckable(true);
        action->setChecked(shown.contains(key));
        connect(action, &QAction::triggered, this, [this, shown, key](bool on) {
            QStringList now = shown;
            if (on)
                now << key;
            else
                now.removeAll(key);
            model_->setColumns(now);
            rememberColumns();
        });
    }
}

void TablePanel::rememberColumns() {
    QStringList shown;
    for (const ops::TableColumn& c : model_->columns()) shown << QString::fromStdString(c.key);
    QSettings().setValue("table/columns", shown);
}

void TablePanel::fillSeenFrom(QMenu* menu) {
    auto choose = [this](base::ObjectId id) {
        model_->setRelativeTo(id);
        const Slot s = id ? editor_.scene().find(id) : kNoSlot;
        const auto name = s == kNoSlot ? std::string_view() : editor_.scene().nameText(s);
        seenFrom_->setText(s == kNoSlot ? tr("From the world") : tr("From %1").arg(toQt(name)));
    };
    connect(menu->addAction(tr("The world")), &QAction::triggered, this, [choose] { choose({}); });
    if (!editor_.isOpen()) return;
    if (!editor_.selection().empty()) {
        const base::ObjectId last = editor_.selection().back();
        const auto name = editor_.scene().nameText(editor_.scene().find(last));
        connect(menu->addAction(tr("%1, selected last").arg(toQt(name))), &QAction::triggered, this,
                [choose, last] { choose(last); });
    }
    connect(menu->addAction(tr("Point at an object…")), &QAction::triggered, this,
            [this, choose] { editor_.asking().askObject([](Slot) { return true; }, choose); });
}

void TablePanel::fillRowMenu(const QPoint& at) {
    QMenu* menu = openMenu(this);
    connect(menu->addAction(tr("Copy cells")), &QAction::triggered, this, &TablePanel::copy);
    connect(menu->addAction(tr("Paste cells")), &QAction::triggered, this, &TablePanel::paste);
    menu->addSeparator();
    connect(menu->addAction(tr("Fill down")), &QAction::triggered, this, &TablePanel::fillDown);
    connect(menu->addAction(tr("Series")), &QAction::triggered, this, &TablePanel::goOn);
    menu->addSeparator();
    Q_EMIT menuRequested(menu);
    menu->popup(table_->viewport()->mapToGlobal(at));
}

bool TablePanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == table_ && (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride)) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool down = key->key() == Qt::Key_Down && key->modifiers() == (Qt::ControlModifier | Qt::ShiftModifier);
        const bool ours = key->matches(QKeySequence::Copy) || key->matches(QKeySequence::Paste) || down;
        if (!ours) return false;
        event->accept();
        if (event->type() == QEvent::ShortcutOverride) return true;
        if (key->matches(QKeySequence::Copy)) copy();
        if (key->matches(QKeySequence::Paste)) paste();
        if (down) fillDown();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void TablePanel::count() {
    if (!editor_.isOpen()) return count_->clear();
    const int all = static_cast<int>(editor_.scene().objectCount());
    count_->setText(model_->rowCount() == all ? tr("%1 rows").arg(all)
                                              : tr("%1 of %2 rows").arg(model_->rowCount()).arg(all));
    empty_->setVisible(model_->rowCount() == 0);
    if (model_->isSearching()) return empty_->setText(tr("Looking…"));
    empty_->setText(all == 0 ? tr("This scene is empty.") : tr("Nothing fits the filter."));
}

void TablePanel::fromScene() {
    if (syncing_ || !editor_.isOpen() || !isVisible()) return;
    syncing_ = true;
    std::vector<int> rows;
    for (base::ObjectId id : editor_.selection())
        if (const int row = model_->rowOf(editor_.scene().find(id)); row >= 0) rows.push_back(row);
    std::sort(rows.begin(), rows.end());
    QItemSelection selection;
    for (std::size_t i = 0; i < rows.size() && selection.size() < kMostRuns; ++i) {
        const int first = rows[i];
        while (i + 1 < rows.size() && rows[i + 1] == rows[i] + 1) ++i;
        selection.select(model_->index(first, 0), model_->index(rows[i], model_->columnCount() - 1));
    }
    table_->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
    if (!rows.empty()) table_->scrollTo(model_->index(rows.front(), std::max(0, table_->currentIndex().column())));
    syncing_ = false;
}

void TablePanel::fromTable() {
    if (syncing_ || !editor_.isOpen()) return;
    syncing_ = true;
    std::set<int> rows;
    for (const QItemSelectionRange& range : table_->selectionModel()->selection())
        for (int row = range.top(); row <= range.bottom(); ++row) rows.insert(row);
    std::vector<base::ObjectId> ids;
    for (int row : rows) ids.push_back(editor_.scene().id(model_->slotAt(row)));
    editor_.select(std::move(ids));
    syncing_ = false;
}

std::vector<QModelIndex> TablePanel::oneColumn() {
    QModelIndexList chosen = table_->selectionModel()->selectedIndexes();
    const int current = table_->currentIndex().column();
    std::set<int> columns;
    for (const QModelIndex& i : chosen) columns.insert(i.column());
    std::vector<QModelIndex> cells;
    for (const QModelIndex& i : chosen)
        if (i.column() == (columns.size() == 1 ? *columns.begin() : current)) cells.push_back(i);
    std::sort(cells.begin(), cells.end(), [](const QModelIndex& a, const QModelIndex& b) { return a.row() < b.row(); });
    if (cells.size() < 2) {
        editor_.say(tr("Select several cells of one column first: click the topmost, then Shift+click the last."));
        cells.clear();
    }
    return cells;
}

bool TablePanel::write(const QString& name, const std::vector<ops::CellInput>& cells) {
    const ops::CellPlan plan = ops::planCells(model_->source(), cells);
    if (!plan.problems.empty()) {
        showPreview(plan, name);
        return false;
    }
    if (plan.changes.empty()) return true;
    return editor_.run(name.toStdString(), [&](edit::Draft& draft) { return ops::apply(draft, plan); });
}

void TablePanel::fillDown() {
    const auto cells = oneColumn();
    if (cells.empty()) return;
    std::vector<ops::CellInput> inputs;
    for (const QModelIndex& cell : cells)
        inputs.push_back(model_->input(cell.row(), cell.column(), model_->text(cells[0].row(), cells[0].column())));
    write(tr("Fill %1 cells down").arg(cells.size()), inputs);
}

void TablePanel::goOn() {
    const auto cells = oneColumn();
    if (cells.empty()) return;
    auto text = [&](std::size_t i) { return model_->text(cells[i].row(), cells[i].column()).toStdString(); };
    // Two beginnings count when they differ; else the first one goes on by itself.
    std::vector<std::string> first = {text(0)};
    bool areNumbers[2] = {};
    const double begin = QString::fromStdString(text(0)).toDouble(&areNumbers[0]);
    const double next = QString::fromStdString(text(1)).toDouble(&areNumbers[1]);
    if (cells.size() > 2 && areNumbers[0] && areNumbers[1] && begin != next) first.push_back(text(1));
    const auto series = ops::series(first, cells.size());
    std::vector<ops::CellInput> inputs;
    for (std::size_t i = 0; i < cells.size(); ++i)
        inputs.push_back(model_->input(cells[i].row(), cells[i].column(), QString::fromStdString(series[i])));
    write(tr("Series in %1 cells").arg(cells.size()), inputs);
}

void TablePanel::replaceAll() {
    if (find_->text().isEmpty()) return;
    std::vector<QModelIndex> cells;
    const QModelIndexList chosen = table_->selectionModel()->selectedIndexes();
    const int column = table_->currentIndex().isValid() ? table_->currentIndex().column() : 0;
    std::set<int> rows;
    for (const QModelIndex& i : chosen) rows.insert(i.row());
    for (int row = 0; row < model_->rowCount(); ++row)
        if (rows.size() < 2 || rows.contains(row)) cells.push_back(model_->index(row, column));
    std::vector<ops::CellInput> inputs;
    for (const QModelIndex& cell : cells) {
        const QString text = model_->text(cell.row(), cell.column());
        if (text.contains(find_->text()))
            inputs.push_back(
                model_->input(cell.row(), cell.column(), QString(text).replace(find_->text(), replace_->text())));
    }
    if (inputs.empty()) return editor_.say(tr("“%1” is in no cell of this column.").arg(find_->text()));
    if (write(tr("Replace “%1” in %2 cells").arg(find_->text()).arg(inputs.size()), inputs))
        editor_.say(tr("%1 cells changed.").arg(inputs.size()));
}

void TablePanel::copy() {
    std::map<int, std::map<int, QString>> cells;
    for (const QModelIndex& i : table_->selectionModel()->selectedIndexes())
        cells[i.row()][i.column()] = model_->text(i.row(), i.column());
    QStringList lines;
    for (const auto& [row, line] : cells) {
        QStringList texts;
        for (const auto& [column, text] : line) texts << text;
        lines << texts.join('\t');
    }
    QApplication::clipboard()->setText(lines.join('\n'));
}

void TablePanel::paste() {
    const QModelIndex at = table_->currentIndex();
    auto rows = io::parseCsv(QApplication::clipboard()->text().toStdString());
    if (!rows) return (void)editor_.report(tl::unexpected(rows.error()));
    if (!at.isValid() || rows->empty()) return editor_.say(tr("Click the cell where the block is to begin."));
    // From the topmost selected row on, also when the current cell is another one.
    int top = at.row();
    for (const QItemSelectionRange& range : table_->selectionModel()->selection()) top = std::min(top, range.top());
    std::vector<ops::CellInput> inputs;
    std::size_t beyond = 0;
    for (std::size_t r = 0; r < rows->size(); ++r)
        for (std::size_t c = 0; c < (*rows)[r].size(); ++c) {
            const int row = top + static_cast<int>(r), column = at.column() + static_cast<int>(c);
            if (row >= model_->rowCount() || column >= model_->columnCount()) {
                ++beyond;
                continue;
            }
            inputs.push_back(model_->input(row, column, QString::fromStdString((*rows)[r][c])));
            inputs.back().row = r + 1;
        }
    if (write(tr("Paste %1 cells").arg(inputs.size()), inputs) && beyond > 0)
        editor_.say(tr("%1 cells lie beyond the table and were left out.").arg(beyond));
}

base::Status TablePanel::exportCsv(const QString& file) const {
    std::ostringstream out;
    io::CsvWriter csv(out);
    io::CsvRow head = {"id"};
    std::vector<ops::TableColumn> columns;
    for (const ops::TableColumn& c : model_->columns())
        if (c.what != ops::TableColumn::What::Id) {
            head.push_back(c.key);
            columns.push_back(c);
        }
    csv.row(head);
    for (int row = 0; row < model_->rowCount(); ++row) {
        const Slot s = model_->slotAt(row);
        io::CsvRow cells = {base::toText(editor_.scene().id(s))};
        for (const ops::TableColumn& c : columns) cells.push_back(ops::cellText(model_->source(), s, c));
        csv.row(cells);
    }
    return base::writeFileWhole(file.toStdString(), out.str());
}

base::Status TablePanel::importCsv(const QString& file) {
    auto text = base::readFile(file.toStdString());
    if (!text) return tl::unexpected(text.error());
    auto rows = io::parseCsv(*text);
    if (!rows) return tl::unexpected(rows.error());
    showPreview(ops::planRows(model_->source(), *rows), QFileInfo(file).fileName());
    return {};
}

void TablePanel::chooseExport() {
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Write the table"), QString::fromStdString(editor_.sceneName()) + ".csv", tr("Tables (*.csv)"));
    if (file.isEmpty()) return;
    if (editor_.report(exportCsv(file))) editor_.say(tr("%1 rows written to %2.").arg(model_->rowCount()).arg(file));
}

void TablePanel::chooseImport() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Read a table"), {}, tr("Tables (*.csv *.tsv *.txt);;All files (*)"));
    if (!file.isEmpty()) editor_.report(importCsv(file));
}

void TablePanel::showPreview(ops::CellPlan plan, const QString& from) {
    constexpr std::size_t kMostShown = 2000;
    preview_ = std::move(plan);
    changes_->clear();
    for (const ops::CellProblem& p : preview_.problems) {
        if (static_cast<std::size_t>(changes_->topLevelItemCount()) >= kMostShown) break;
        auto* row = new QTreeWidgetItem(
            changes_, {tr("✕ row %1").arg(p.row), QString::fromStdString(p.column), QString::fromStdString(p.message)});
        for (int c = 0; c < 3; ++c) row->setForeground(c, editor_.theme().rose);
        row->setFirstColumnSpanned(false);
        row->setToolTip(2, QString::fromStdString(p.message));
    }
    for (const std::string& remark : preview_.remarks) {
        auto* row = new QTreeWidgetItem(changes_, {tr("· note"), {}, QString::fromStdString(remark)});
        row->setToolTip(2, row->text(2));
    }
    for (const ops::CellChange& c : preview_.changes) {
        if (static_cast<std::size_t>(changes_->topLevelItemCount()) >= kMostShown) break;
        const auto name = editor_.scene().nameText(editor_.scene().find(c.id));
        new QTreeWidgetItem(changes_, {toQt(name), QString::fromStdString(c.column), QString::fromStdString(c.before),
                                       QString::fromStdString(c.after)});
    }
    const std::size_t faults = preview_.problems.size(), cells = preview_.changes.size();
    previewTitle_->setText(tr("%1: %2 would change, %3 cannot be taken")
                               .arg(from, counted(cells, tr("cell"), tr("cells")), QString::number(faults)));
    accept_->setText(faults == 0 ? tr("Change %1").arg(counted(cells, tr("cell"), tr("cells")))
                                 : tr("Change %1, leave the faulty ones").arg(counted(cells, tr("cell"), tr("cells"))));
    accept_->setEnabled(cells > 0);
    pages_->setCurrentIndex(1);
    (cells > 0 ? accept_ : static_cast<QWidget*>(changes_))->setFocus();
}

void TablePanel::acceptPreview() {
    preview_.problems.clear();  // left out, as the button said
    const std::string name = "Table: " + std::to_string(preview_.changes.size()) + " cells";
    if (editor_.run(name, [&](edit::Draft& draft) { return ops::apply(draft, preview_); })) pages_->setCurrentIndex(0);
}

}  // namespace app
