#include "app/dialogs/records_window.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QScrollArea>
#include <QSettings>
#include <algorithm>

#include "app/dialogs/used_by_popover.h"
#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/kit/turning_splitter.h"
#include "edit/session.h"
#include "ops/properties.h"
#include "ops/records.h"

namespace app {
namespace {

constexpr int kIdRole = Qt::UserRole, kTypeRole = Qt::UserRole + 1;

QString foldedKey(const std::string& type) {
    return "records/folded/" + toQt(type);
}

/// What a record says, in a line: its first few values.
QString gist(const model::RecordType& type, const model::Record& record) {
    QStringList parts;
    for (const model::Property& p : type.properties) {
        if (p.hidden || parts.size() == 3) continue;
        model::Value room;
        const QString text = toQt(model::valueText(p, ops::recordValue(record, p, room)));
        if (!text.isEmpty()) parts << (p.unit.empty() ? text : text + " " + toQt(p.unit));
    }
    return parts.join(QStringLiteral(" · "));
}

/// All that a search looks at.
QString allText(const model::RecordType& type, const model::Record& record) {
    QString all = toQt(record.name);
    for (const model::Property& p : type.properties) {
        model::Value room;
        all += '\n' + toQt(model::valueText(p, ops::recordValue(record, p, room)));
    }
    return all;
}

QPushButton* button(const QString& text, const char* name, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(QLatin1String(name));
    b->setToolTip(tip);
    return b;
}

}  // namespace

RecordsWindow::RecordsWindow(QWidget* parent, Editor& editor)
    : ListAndForm(parent, editor,
                  {tr("Records"), "record", tr("Find a record"), tr("Records"), tr("Name of the record")}, 300) {
    makeList();
    makeSide();
    listen();
    refreshList();
}

void RecordsWindow::makeList() {
    search_->setToolTip(tr("Part of a name, or of a value"));
    list_->setColumnCount(2);
    list_->setHeaderHidden(true);
    list_->setIndentation(14);
    list_->setUniformRowHeights(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->header()->resizeSection(0, 170);
    below_->addFolding(new_ =
                           button(tr("New"), "recordNew", tr("A new record of the type that is chosen in the list")));
    below_->addFolding(like_ = button(tr("New from this"), "recordLike", tr("A copy of the record, to be changed")));
    below_->addStretch();
    auto* types = button(tr("Types"), "recordTypes", tr("What records of this type say: make and change types"));
    below_->addFolding(types);
    connect(types, &QPushButton::clicked, this, [this] { Q_EMIT typesAsked(toQt(currentType())); });
}

void RecordsWindow::makeSide() {
    column_->addWidget(empty_ = wrapped({}, "quiet"));
    form_ = new QWidget;
    auto* form = new QVBoxLayout(form_);
    form->setContentsMargins(0, 0, 0, 0);
    form->addWidget(type_ = wrapped({}, "faint"));
    form->addWidget(name_);
    name_->setToolTip(tr("What people call it; what links to it is not touched"));
    addForm(form);
    form->addWidget(file_);
    auto* below = new QHBoxLayout;
    below->addWidget(uses_ = button(tr("Used by"), "recordUses", tr("The objects that link to it, in every scene")));
    below->addStretch();
    below->addWidget(
        delete_ = button(tr("Delete"), "recordDelete", tr("What links to it leads nowhere then; undo brings it back")));
    form->addLayout(below);
    column_->addWidget(form_, 1);
}

void RecordsWindow::listen() {
    connect(search_, &QLineEdit::textChanged, this, &RecordsWindow::refreshList);
    auto folds = [this](const QTreeWidgetItem* row, bool folded) {
        if (search_->text().isEmpty())
            QSettings().setValue(foldedKey(row->data(0, kTypeRole).toString().toStdString()), folded);
    };
    connect(list_, &QTreeWidget::itemCollapsed, this, [folds](QTreeWidgetItem* row) { folds(row, true); });
    connect(list_, &QTreeWidget::itemExpanded, this, [folds](QTreeWidgetItem* row) { folds(row, false); });
    connect(list_, &QTreeWidget::currentItemChanged, this, &RecordsWindow::refreshForm);
    connect(new_, &QPushButton::clicked, this, [this] { add(false); });
    connect(like_, &QPushButton::clicked, this, [this] { add(true); });
    connect(uses_, &QPushButton::clicked, this, &RecordsWindow::showUses);
    connect(delete_, &QPushButton::clicked, this, [this] {
        const base::ObjectId id = current();
        const auto found = ops::findRecord(editor_.session().library(), id);
        if (found.record == nullptr) return;
        auto uses = ops::recordUses(editor_.session(), id);
        if (!uses) return (void)editor_.report(tl::unexpected(uses.error()));
        AskDelete::ask(this, editor_, tr("the record %1").arg(toQt(found.record->name)),
                       tr("Their links lead nowhere then; undo brings it back."), *uses,
                       [this, id, name = found.record->name] {
                           run("Delete record " + name, [&](edit::Draft& d) { return ops::deleteRecord(d, id); });
                       });
    });
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (!name_->isModified()) return;
        name_->setModified(false);
        const std::string name = name_->text().trimmed().toStdString();
        run("Rename record to " + name, [&](edit::Draft& d) { return ops::renameRecord(d, current(), name); });
    });
    auto change =
        [this](const QString& name,
               const std::function<base::Result<model::Value>(const model::Property&, const model::Value&)>& to) {
            const auto found = ops::findRecord(editor_.session().library(), current());
            if (found.record == nullptr) return;
            for (const model::Property& p : found.type->properties) {
                if (p.name != name.toStdString()) continue;
                model::Value room;
                auto value = to(p, ops::recordValue(*found.record, p, room));
                if (!value) return void(editor_.report(tl::unexpected(value.error())));
                run("Set " + p.label + " of " + found.record->name,
                    [&](edit::Draft& d) { return ops::setRecord(d, current(), name.toStdString(), *value); });
                return;
            }
        };
    connect(rows_, &PropertyRows::typed, this, [this, change](const QString& name, const QString& text) {
        change(name, [&](const model::Property& p, const model::Value& now) {
            return ops::typedValue(editor_.session().library(), p, text.toStdString(), now);
        });
    });
    connect(rows_, &PropertyRows::chosen, this, [change](const QString& name, const model::Value& value) {
        change(name, [&](const model::Property&, const model::Value&) -> base::Result<model::Value> { return value; });
    });
    connect(rows_, &PropertyRows::resetAsked, this, [change](const QString& name) {
        change(name, [](const model::Property& p, const model::Value&) -> base::Result<model::Value> {
            return model::defaultOf(p);
        });
    });
    connect(&editor_, &Editor::libraryChanged, this, &RecordsWindow::refreshList);
}

base::ObjectId RecordsWindow::current() const {
    const QTreeWidgetItem* row = list_->currentItem();
    if (row == nullptr) return {};
    return base::parseObjectId(row->data(0, kIdRole).toString().toStdString()).value_or(base::ObjectId{});
}

std::string RecordsWindow::currentType() const {
    const QTreeWidgetItem* row = list_->currentItem();
    if (row != nullptr && row->parent() != nullptr) row = row->parent();
    return row != nullptr ? row->data(0, kTypeRole).toString().toStdString() : std::string();
}

void RecordsWindow::reveal(base::ObjectId record) {
    const auto found = ops::findRecord(editor_.session().library(), record);
    if (found.record == nullptr) return;
    search_->clear();
    wanted_ = record;
    refreshList();
}

bool RecordsWindow::run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb) {
    const bool done = editor_.run(name, verb);
    if (!done) refreshForm();
    return done;
}

QTreeWidgetItem* RecordsWindow::addHeading(const model::RecordType& type, std::size_t fits) {
    auto* heading = new QTreeWidgetItem(list_, {QString("%1 %2").arg(toQt(type.label)).arg(fits)});
    heading->setData(0, kTypeRole, toQt(type.name));
    heading->setToolTip(0, toQt(type.help));
    QFont font = list_->font();
    font.setWeight(QFont::DemiBold);
    heading->setFont(0, font);
    heading->setFirstColumnSpanned(true);
    return heading;
}

void RecordsWindow::refreshList() {
    const base::ObjectId keep = wanted_ ? wanted_ : current();
    const std::string keepType = currentType();
    const bool unfold = bool(wanted_);
    wanted_ = {};
    {
        const QSignalBlocker quiet(list_);
        list_->clear();
        QTreeWidgetItem* now = nullptr;
        for (const auto& [name, type] : editor_.session().library().recordTypes()) {
            std::vector<std::pair<QString, base::ObjectId>> fit;
            for (const auto& [id, record] : type.records)
                if (allText(type, record).contains(search_->text(), Qt::CaseInsensitive))
                    fit.emplace_back(toQt(record.name), id);
            if (fit.empty() && !search_->text().isEmpty()) continue;
            std::sort(fit.begin(), fit.end());
            QTreeWidgetItem* heading = addHeading(type, fit.size());
            if (name == keepType) now = heading;
            bool held = false;
            for (const auto& [label, id] : fit) {
                auto* row = new QTreeWidgetItem(heading, {label, gist(type, type.records.at(id))});
                row->setData(0, kIdRole, toQt(base::toText(id)));
                row->setToolTip(0, label);
                row->setToolTip(1, row->text(1));
                row->setForeground(1, editor_.theme().dim);
                if (id == keep) now = row, held = true;
            }
            const bool folded = QSettings().value(foldedKey(name)).toBool();
            heading->setExpanded(!folded || !search_->text().isEmpty() || (held && unfold));
        }
        if (now == nullptr && list_->topLevelItemCount() > 0) {
            QTreeWidgetItem* first = list_->topLevelItem(0);
            now = first->isExpanded() && first->childCount() > 0 ? first->child(0) : first;
        }
        list_->setCurrentItem(now);
    }
    refreshForm();
}

void RecordsWindow::refreshForm() {
    const auto found = ops::findRecord(editor_.session().library(), current());
    form_->setVisible(found.record != nullptr);
    new_->setEnabled(!currentType().empty() && editor_.session().readOnlyReason().empty());
    empty_->setVisible(found.record == nullptr);
    like_->setEnabled(found.record != nullptr && editor_.session().readOnlyReason().empty());
    empty_->setText(editor_.session().library().recordTypes().empty()
                        ? tr("This project has no record types yet. Types makes one.")
                    : currentType().empty() ? tr("No record fits.")
                                            : tr("Choose a record, or make a new one of this type."));
    if (found.record == nullptr) return;
    type_->setText(found.type->help.empty() ? toQt(found.type->label)
                                            : toQt(found.type->label + " · " + found.type->help));
    if (!name_->hasFocus() || !name_->isModified()) name_->setText(toQt(found.record->name));
    file_->setText(tr("records/%1.records.jsonl · %2").arg(toQt(found.type->name), toQt(base::toText(current()))));
    std::vector<PropertyShown> shown;
    for (const model::Property& p : found.type->properties) {
        if (p.hidden) continue;
        model::Value room;
        const model::Value& value = ops::recordValue(*found.record, p, room);
        PropertyShown s{
            p,          value, model::choicesOf(p, found.type->properties, found.record->values), &value != &room,
            p.readOnly, {}};
        const std::string& reason = editor_.session().readOnlyReason();
        if (!reason.empty()) {
            s.fixed = true;
            s.why = toQt(reason);
        }
        shown.push_back(std::move(s));
    }
    rows_->show(shown);
}

void RecordsWindow::add(bool like) {
    const auto found = ops::findRecord(editor_.session().library(), current());
    const std::string type = like && found.type != nullptr ? found.type->name : currentType();
    const model::RecordType* known = editor_.session().library().recordType(type);
    if (known == nullptr) return;
    const std::string name = like && found.record != nullptr ? found.record->name + ", copy" : "New " + known->label;
    const base::ObjectId from = like ? current() : base::ObjectId{};
    run("New record " + name, [&](edit::Draft& draft) -> base::Status {
        auto made = ops::newRecord(draft, type, name, from);
        if (!made) return tl::unexpected(made.error());
        wanted_ = *made;
        return {};
    });
    search_->clear();
    refreshList();
    name_->setFocus();
    name_->selectAll();
}

void RecordsWindow::showUses() {
    const auto found = ops::findRecord(editor_.session().library(), current());
    if (found.record == nullptr) return;
    auto uses = ops::recordUses(editor_.session(), current());
    if (!uses) return void(editor_.report(tl::unexpected(uses.error())));
    new UsedByPopover(this, editor_, toQt(found.record->name), *uses);
}

}  // namespace app
