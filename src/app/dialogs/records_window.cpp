#include "app/dialogs/records_window.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QScrollArea>
#include <QSettings>
#include <QSplitter>

#include "app/dialogs/kinds_window.h"
#include "app/dialogs/used_by_popover.h"
#include "app/panels/flow_layout.h"
#include "ops/properties.h"
#include "ops/records.h"

namespace app {
namespace {

QLabel* label(const QString& text, const char* name) {
    auto* l = new QLabel(text);
    l->setObjectName(QLatin1String(name));
    l->setWordWrap(true);
    l->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return l;
}

QString toQt(const std::string& text) {
    return QString::fromStdString(text);
}

/// Sorted by number where both are numbers.
class RecordRow : public QTreeWidgetItem {
  public:
    using QTreeWidgetItem::QTreeWidgetItem;
    bool operator<(const QTreeWidgetItem& other) const override {
        const int column = treeWidget()->sortColumn();
        bool a = false, b = false;
        const double x = text(column).toDouble(&a), y = other.text(column).toDouble(&b);
        return a && b ? x < y : text(column) < other.text(column);
    }
};

QPushButton* button(const QString& text, const char* name, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(QLatin1String(name));
    b->setToolTip(tip);
    return b;
}

}  // namespace

RecordsWindow::RecordsWindow(QWidget* parent, Editor& editor) : QWidget(parent, Qt::Window), editor_(editor) {
    setObjectName("panel");
    setAttribute(Qt::WA_DeleteOnClose);
    setAttribute(Qt::WA_StyledBackground);
    setWindowTitle(tr("Records"));
    resize(760, 520);
    shownType_ = QSettings().value("records/type").toString().toStdString();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(12, 10, 12, 10);
    chips_ = new QWidget;
    new FlowLayout(chips_, 4);
    outer->addWidget(chips_);
    auto* split = new QSplitter;
    outer->addWidget(split, 1);

    auto* left = new QWidget;
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 6, 0);
    column->addWidget(search_ = new QLineEdit);
    search_->setObjectName("recordSearch");
    search_->setPlaceholderText(tr("Find a record"));
    search_->setAccessibleName(tr("Find a record"));
    search_->setToolTip(tr("Part of a name, or of a value"));
    search_->setClearButtonEnabled(true);
    column->addWidget(list_ = new QTreeWidget, 1);
    list_->setObjectName("recordList");
    list_->setAccessibleName(tr("Records"));
    list_->setHeaderLabels({tr("Name"), tr("Type")});
    list_->setRootIsDecorated(false);
    list_->setSortingEnabled(true);
    list_->sortByColumn(0, Qt::AscendingOrder);
    list_->header()->resizeSection(0, 190);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(new_ = button(tr("New"), "recordNew", tr("A new record of the type that is chosen above")));
    buttons->addWidget(like_ = button(tr("New from this"), "recordLike", tr("A copy of the record, to be changed")));
    buttons->addStretch();
    auto* types = button(tr("Types"), "recordTypes", tr("What records of this type say: make and change types"));
    buttons->addWidget(types);
    connect(types, &QPushButton::clicked, this, [this] {
        auto* window = new KindsWindow(parentWidget(), editor_);
        window->revealRecords(shownType_);
        window->show();
    });
    column->addLayout(buttons);
    split->addWidget(left);

    auto* right = new QWidget;
    auto* side = new QVBoxLayout(right);
    side->setContentsMargins(6, 0, 0, 0);
    side->addWidget(empty_ = label({}, "quiet"));
    form_ = new QWidget;
    auto* form = new QVBoxLayout(form_);
    form->setContentsMargins(0, 0, 0, 0);
    form->addWidget(type_ = label({}, "faint"));
    form->addWidget(name_ = new QLineEdit);
    name_->setObjectName("recordName");
    name_->setAccessibleName(tr("Name of the record"));
    name_->setToolTip(tr("What people call it; what links to it is not touched"));
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    auto* inside = new QWidget;
    inside->setObjectName("scrolled");
    auto* holds = new QVBoxLayout(inside);
    holds->setContentsMargins(0, 4, 8, 0);
    holds->addWidget(rows_ = new PropertyRows(editor_));
    rows_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    holds->addStretch();
    scroll->setWidget(inside);
    form->addWidget(scroll, 1);
    form->addWidget(file_ = label({}, "faint"));
    auto* below = new QHBoxLayout;
    below->addWidget(uses_ = button(tr("Used by"), "recordUses", tr("The objects that link to it, in every scene")));
    below->addStretch();
    below->addWidget(
        delete_ = button(tr("Delete"), "recordDelete", tr("What links to it leads nowhere then; undo brings it back")));
    form->addLayout(below);
    side->addWidget(form_, 1);
    split->addWidget(right);
    split->setSizes({320, 420});

    connect(search_, &QLineEdit::textChanged, this, &RecordsWindow::refreshList);
    connect(list_, &QTreeWidget::currentItemChanged, this, &RecordsWindow::refreshForm);
    connect(new_, &QPushButton::clicked, this, [this] { add(false); });
    connect(like_, &QPushButton::clicked, this, [this] { add(true); });
    connect(uses_, &QPushButton::clicked, this, &RecordsWindow::showUses);
    connect(delete_, &QPushButton::clicked, this, [this] {
        const base::ObjectId id = current();
        const auto found = ops::findRecord(editor_.session().library(), id);
        if (found.record != nullptr)
            run("Delete record " + found.record->name, [&](edit::Draft& d) { return ops::deleteRecord(d, id); });
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
    connect(rows_, &PropertyRows::typed, this, [change](const QString& name, const QString& text) {
        change(name, [&](const model::Property& p, const model::Value& now) {
            return ops::typedValue(p, text.toStdString(), now);
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
    connect(&editor_, &Editor::libraryChanged, this, &RecordsWindow::refresh);
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    refresh();
}

base::ObjectId RecordsWindow::current() const {
    const QTreeWidgetItem* row = list_->currentItem();
    if (row == nullptr) return {};
    return base::parseObjectId(row->data(0, Qt::UserRole).toString().toStdString()).value_or(base::ObjectId{});
}

void RecordsWindow::reveal(base::ObjectId record) {
    const auto found = ops::findRecord(editor_.session().library(), record);
    if (found.record == nullptr) return;
    if (!shownType_.empty()) shownType_ = found.type->name;
    search_->clear();
    wanted_ = record;
    refresh();
}

bool RecordsWindow::run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb) {
    const bool done = editor_.run(name, verb);
    if (!done) refreshForm();
    return done;
}

void RecordsWindow::refresh() {
    refreshChips();
    refreshList();
}

void RecordsWindow::refreshChips() {
    QLayout* flow = chips_->layout();
    while (QLayoutItem* item = flow->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const auto& types = editor_.session().library().recordTypes();
    if (!types.contains(shownType_)) shownType_.clear();
    std::size_t total = 0;
    for (const auto& [name, type] : types) total += type.records.size();
    auto chip = [&](const QString& text, const std::string& type) {
        auto* c = new QPushButton(text);
        c->setObjectName("chip");
        c->setCheckable(true);
        c->setChecked(type == shownType_);
        connect(c, &QPushButton::clicked, this, [this, type] {
            shownType_ = type;
            QSettings().setValue("records/type", toQt(type));
            QMetaObject::invokeMethod(this, &RecordsWindow::refresh, Qt::QueuedConnection);  // it deletes this chip
        });
        flow->addWidget(c);
    };
    chip(tr("All %1").arg(total), {});
    for (const auto& [name, type] : types) chip(QString("%1 %2").arg(toQt(type.label)).arg(type.records.size()), name);
    new_->setEnabled(!shownType_.empty() && editor_.session().readOnlyReason().empty());
}

void RecordsWindow::refreshList() {
    const base::ObjectId keep = wanted_ ? wanted_ : current();
    wanted_ = {};
    const QSignalBlocker quiet(list_);
    list_->clear();
    // Of one type the list is a table of all that its records say.
    const model::RecordType* oneType =
        shownType_.empty() ? nullptr : editor_.session().library().recordType(shownType_);
    QStringList heads = {tr("Name"), tr("Type")};
    for (const model::Property& p : oneType != nullptr ? oneType->properties : std::vector<model::Property>{})
        if (!p.hidden) heads << toQt(p.unit.empty() ? p.label : p.label + " " + p.unit);
    list_->setColumnCount(static_cast<int>(heads.size()));
    list_->setHeaderLabels(heads);
    list_->setColumnHidden(1, oneType != nullptr);
    const QString asked = search_->text();
    for (const auto& [name, type] : editor_.session().library().recordTypes()) {
        if (!shownType_.empty() && name != shownType_) continue;
        for (const auto& [id, record] : type.records) {
            QString all = toQt(record.name);
            for (const model::Property& p : type.properties) {
                model::Value room;
                all += '\n' + toQt(model::valueText(p, ops::recordValue(record, p, room)));
            }
            if (!all.contains(asked, Qt::CaseInsensitive)) continue;
            QStringList cells = {toQt(record.name), toQt(type.label)};
            if (oneType)
                for (const model::Property& p : type.properties) {
                    model::Value room;
                    if (!p.hidden) cells << toQt(model::valueText(p, ops::recordValue(record, p, room)));
                }
            auto* row = new RecordRow(list_, cells);
            row->setData(0, Qt::UserRole, toQt(base::toText(id)));
            if (id == keep) list_->setCurrentItem(row);
        }
    }
    if (list_->currentItem() == nullptr && list_->topLevelItemCount() > 0)
        list_->setCurrentItem(list_->topLevelItem(0));
    refreshForm();
}

void RecordsWindow::refreshForm() {
    const auto found = ops::findRecord(editor_.session().library(), current());
    form_->setVisible(found.record != nullptr);
    empty_->setVisible(found.record == nullptr);
    like_->setEnabled(found.record != nullptr && editor_.session().readOnlyReason().empty());
    empty_->setText(editor_.session().library().recordTypes().empty()
                        ? tr("This project has no record types yet. Types makes one.")
                        : tr("No record fits."));
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
        PropertyShown s{p, value, model::choicesOf(p, found.record->values), &value != &room, p.readOnly, {}};
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
    const std::string type = like && found.type != nullptr ? found.type->name : shownType_;
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
    refresh();
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

void RecordsWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        close();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace app
