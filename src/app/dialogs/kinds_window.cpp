#include "app/dialogs/kinds_window.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <functional>

#include "app/dialogs/used_by_popover.h"
#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/kit/turning_splitter.h"
#include "app/names.h"
#include "edit/session.h"
#include "io/data_file.h"
#include "io/kind_item.h"
#include "io/workspace.h"
#include "ops/kinds.h"
#include "ops/properties.h"
#include "ops/records.h"
#include "ops/schema_form.h"
#include "ops/solid.h"

namespace app {

using model::ValueMap;

KindsWindow::KindsWindow(QWidget* parent, Editor& editor)
    : ListAndForm(parent, editor, {tr("Kinds"), "kind", tr("Find a kind"), tr("Kinds and record types"), tr("Name")},
                  320) {
    makeList();
    makeSide();
    listen();
    if (!editor_.session().library().kinds().empty()) subject_.name = editor_.session().library().kinds().front().name;
    refresh();
}

QToolButton* KindsWindow::button(const char* name, const QString& text, const QString& tip, std::function<void()> run) {
    auto* b = app::button<QToolButton>(name, text, tip);
    if (run) connect(b, &QToolButton::clicked, this, std::move(run));
    return b;
}

void KindsWindow::makeList() {
    list_->setHeaderLabels({tr("Kind"), tr("Here")});
    list_->headerItem()->setToolTip(1, tr("How many objects of this scene are of it; how many records there are"));
    list_->setRootIsDecorated(false);
    list_->header()->setStretchLastSection(false);
    list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    list_->header()->resizeSection(1, 60);
    below_->addFolding(button("kindNew", tr("New"), tr("A new kind with nothing in it"), [this] { make(0); }));
    below_->addFolding(
        button("kindLike", tr("New from this"), tr("A new kind that begins as this one is"), [this] { make(1); }));
    below_->addFolding(button("kindHeir", tr("Inheriting"),
                              tr("A new kind that is as this one wherever it says nothing itself"),
                              [this] { make(2); }));
    below_->addFolding(
        button("recordTypeNew", tr("New record type"), tr("A new type of records"), [this] { make(3); }));
    below_->addStretch();
}

void KindsWindow::makeSide() {
    auto* head = new QHBoxLayout;
    head->addWidget(name_, 1);
    name_->setToolTip(tr("Objects, items and links follow a new name"));
    auto* inStock = button("kindInStock", tr("In the Stock as ▾"), tr("Makes it something that can be placed"), {});
    inStock->setPopupMode(QToolButton::InstantPopup);
    auto* looks = new QMenu(inStock);
    looks->setObjectName("kindLooks");
    connect(looks, &QMenu::aboutToShow, this, [this, looks] { fillLooks(looks); });
    inStock->setMenu(looks);
    head->addWidget(inStock);
    head->addWidget(button("kindDelete", tr("Delete"),
                           tr("Its objects stay, of a kind that is not there; undo brings it back"),
                           [this] { removeSubject(); }));
    column_->addLayout(head);
    column_->addWidget(tabs_ = new QTabBar);
    tabs_->setObjectName("kindTabs");
    tabs_->setDrawBase(false);
    tabs_->setExpanding(false);
    for (const QString& tab : {tr("Itself"), tr("Properties"), tr("Appearances"), tr("Buttons")}) tabs_->addTab(tab);
    entryBox_ = new QWidget;
    auto* entryColumn = new QVBoxLayout(entryBox_);
    entryColumn->setContentsMargins(0, 0, 0, 0);
    entryColumn->addWidget(entries_ = new QTreeWidget);
    entries_->setObjectName("kindEntries");
    entries_->setAccessibleName(tr("What the kind says"));
    entries_->setRootIsDecorated(false);
    auto* entryButtons = new QHBoxLayout;
    entryButtons->addWidget(button("entryAdd", tr("Add"), tr("One more"), [this] { addEntry(); }));
    entryButtons->addWidget(button("entryRemove", tr("Remove"), tr("Values of existing objects are kept aside"),
                                   [this] { removeEntry(); }));
    entryButtons->addWidget(button("entryUp", tr("↑"), tr("Earlier"), [this] { moveEntry(-1); }));
    entryButtons->addWidget(button("entryDown", tr("↓"), tr("Later"), [this] { moveEntry(1); }));
    entryButtons->addStretch();
    entryColumn->addLayout(entryButtons);
    column_->addWidget(entryBox_);
    addForm(column_);
    column_->addWidget(report_ = wrapped({}, "quiet"));
    report_->setObjectName("kindReport");
    column_->addWidget(file_);
}

void KindsWindow::listen() {
    connect(search_, &QLineEdit::textChanged, this, [this] { refreshList(); });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* row) {
        if (filling_ || row == nullptr) return;
        subject_ = {row->data(0, Qt::UserRole + 1).toBool(), row->data(0, Qt::UserRole).toString().toStdString()};
        at_ = 0;
        report_->clear();
        refresh();
    });
    connect(tabs_, &QTabBar::currentChanged, this, [this] {
        at_ = 0;
        refresh();
    });
    connect(entries_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* row) {
        if (filling_ || row == nullptr) return;
        at_ = static_cast<std::size_t>(entries_->indexOfTopLevelItem(row));
        refreshForm();
    });
    connect(name_, &QLineEdit::editingFinished, this, &KindsWindow::renameSubject);
    connect(rows_, &PropertyRows::typed, this, [this](const QString& name, const QString& text) {
        setField(name, [&](const model::Property& f) -> base::Result<model::Value> {
            const PropertyShown as = shownField(f);
            return ops::typedValue(as.property, text.toStdString(), as.value.value_or(model::Value{}));
        });
    });
    connect(rows_, &PropertyRows::chosen, this, [this](const QString& name, const model::Value& value) {
        setField(name, [&](const model::Property&) -> base::Result<model::Value> { return value; });
    });
    connect(rows_, &PropertyRows::resetAsked, this, [this](const QString& name) {
        setField(name, [&](const model::Property& f) -> base::Result<model::Value> { return model::defaultOf(f); });
    });
    connect(&editor_, &Editor::libraryChanged, this, &KindsWindow::refresh);
}

void KindsWindow::reveal(const std::string& kind) {
    subject_ = {false, kind};
    at_ = 0;
    refresh();
}

void KindsWindow::revealRecords(const std::string& type) {
    const auto& types = editor_.session().library().recordTypes();
    if (types.empty()) return;
    subject_ = {true, types.contains(type) ? type : types.begin()->first};
    at_ = 0;
    tabs_->setCurrentIndex(1);
    refresh();
}

bool KindsWindow::run(const std::string& name, const std::function<Status(edit::Draft&)>& verb) {
    return editor_.run(name, verb);
}

const std::vector<model::Property>& KindsWindow::form() const {
    switch (static_cast<Page>(tabs_->currentIndex())) {
        case Page::Properties: return ops::propertyForm();
        case Page::Appearances: return ops::appearanceForm();
        case Page::Buttons: return ops::buttonForm();
        case Page::Itself: break;
    }
    static const std::vector<model::Property> recordForm = {ops::kindForm()[2]};  // help alone
    return subject_.isRecordType ? recordForm : ops::kindForm();
}

std::string KindsWindow::listKey() const {
    switch (static_cast<Page>(tabs_->currentIndex())) {
        case Page::Properties: return "properties";
        case Page::Appearances: return "appearances";
        case Page::Buttons: return "buttons";
        case Page::Itself: break;
    }
    return {};
}

/// What people call it: a record type's file is called otherwise.
std::string KindsWindow::shownName() const {
    const model::RecordType* type =
        subject_.isRecordType ? editor_.session().library().recordType(subject_.name) : nullptr;
    return type != nullptr ? type->label : subject_.name;
}

/// What the kind's file says.
ValueMap KindsWindow::own() const {
    if (subject_.isRecordType) {
        const auto& entries = editor_.session().entries(model::data::recordsDocument(subject_.name));
        const auto head = entries.find("");
        return head != entries.end() ? head->second : ValueMap{};
    }
    const model::Kind* kind = editor_.session().library().kindNamed(subject_.name);
    return kind != nullptr ? kind->own : ValueMap{};
}

ValueMap KindsWindow::entry() const {
    if (listKey().empty()) return own();
    const auto list = ops::listOf(own(), listKey());
    if (at_ < list.size()) return list[at_];
    const auto above = inheritedProperties();
    return at_ - list.size() < above.size() ? above[at_ - list.size()] : ValueMap{};
}

std::string KindsWindow::parentName() const {
    const model::Kind* kind = subject_.isRecordType ? nullptr : editor_.session().library().kindNamed(subject_.name);
    return kind != nullptr ? kind->inherits : std::string();
}

/// Properties of the kind that it does not say itself, as its parent's file would say them.
std::vector<ValueMap> KindsWindow::inheritedProperties() const {
    if (listKey() != "properties") return {};
    const model::Kind* parent = editor_.session().library().kindNamed(parentName());
    if (parent == nullptr) return {};
    auto all = ops::listOf(model::toValues(*parent), "properties");
    const auto own = ops::listOf(this->own(), "properties");
    std::erase_if(all, [&](const ValueMap& one) {
        return std::any_of(own.begin(), own.end(), [&](const ValueMap& other) {
            return model::textOf(other, "name") == model::textOf(one, "name");
        });
    });
    return all;
}

/// Its own and the inherited ones, as files would say them.
std::vector<ValueMap> KindsWindow::allProperties() const {
    const model::Kind* kind = subject_.isRecordType ? nullptr : editor_.session().library().kindNamed(subject_.name);
    return ops::listOf(kind != nullptr ? model::toValues(*kind) : own(), "properties");
}

void KindsWindow::refresh() {
    if (!editor_.isOpen()) return;
    const bool there = subject_.isRecordType ? editor_.session().library().recordType(subject_.name) != nullptr
                                             : editor_.session().library().kindNamed(subject_.name) != nullptr;
    if (!there && !editor_.session().library().kinds().empty())
        subject_ = {false, editor_.session().library().kinds().front().name};
    refreshList();
    side_->setEnabled(canEditNow());
    for (int page : {2, 3}) tabs_->setTabVisible(page, !subject_.isRecordType);
    if (!name_->hasFocus() || !name_->isModified()) name_->setText(toQt(shownName()));
    const std::string document = subject_.isRecordType ? model::data::recordsDocument(subject_.name)
                                 : editor_.session().library().kindNamed(subject_.name) != nullptr
                                     ? editor_.session().library().kindNamed(subject_.name)->document
                                     : "";
    file_->setText(document.empty() ? QString() : toQt(io::dataFile({}, document).string()));
    refreshEntries();
    refreshForm();
}

bool KindsWindow::canEditNow() const {
    return editor_.session().readOnlyReason().empty();
}

void KindsWindow::refreshList() {
    filling_ = true;
    const model::Scene& scene = editor_.scene();
    std::map<std::string_view, int> counts;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s)) ++counts[scene.kindText(s)];
    list_->clear();
    auto add = [&](const std::string& name, const QString& text, int count, bool isRecordType) {
        if (!text.contains(search_->text(), Qt::CaseInsensitive)) return;
        auto* row = new QTreeWidgetItem(list_, {text, count > 0 ? QString::number(count) : QString()});
        row->setData(0, Qt::UserRole, toQt(name));
        row->setData(0, Qt::UserRole + 1, isRecordType);
        row->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        if (Subject{isRecordType, name} == subject_) list_->setCurrentItem(row);
    };
    std::vector<const model::Kind*> kinds;
    for (const model::Kind& kind : editor_.session().library().kinds()) kinds.push_back(&kind);
    std::sort(kinds.begin(), kinds.end(),
              [](const auto* a, const auto* b) { return base::lowered(a->name) < base::lowered(b->name); });
    for (const model::Kind* kind : kinds)
        add(kind->name,
            toQt(kind->name) + (kind->inherits.empty() ? QString() : tr("  ← %1").arg(toQt(kind->inherits))),
            counts[kind->name], false);
    for (const auto& [name, type] : editor_.session().library().recordTypes())
        add(name, tr("records: %1").arg(toQt(type.label)), static_cast<int>(type.records.size()), true);
    filling_ = false;
}

void KindsWindow::refreshEntries() {
    const std::string key = listKey();
    entryBox_->setVisible(!key.empty());
    if (key.empty()) return;
    filling_ = true;
    const QStringList heads[] = {
        {}, {tr("Label"), tr("Type"), tr("Default")}, {tr("When"), tr("Shows")}, {tr("Label"), tr("Does")}};
    entries_->setHeaderLabels(heads[tabs_->currentIndex()]);
    entries_->setColumnCount(static_cast<int>(heads[tabs_->currentIndex()].size()));
    entries_->header()->setStretchLastSection(false);
    for (int c = 0; c < entries_->columnCount(); ++c)
        entries_->header()->setSectionResizeMode(c, c == 0 ? QHeaderView::Stretch : QHeaderView::ResizeToContents);
    entries_->clear();
    const auto list = ops::listOf(own(), key);
    const auto above = inheritedProperties();
    if (at_ >= list.size() + above.size()) at_ = list.empty() ? 0 : list.size() - 1;
    auto propertyTexts = [](const ValueMap& one) {
        const model::Property& usual = ops::propertyForm()[5];
        std::vector<std::string> ignored;
        const auto read = model::propertyFrom(one, ignored);
        return QStringList{toQt(read ? read->label : model::textOf(one, "name")),
                           toQt(model::textOf(one, "type", "text")),
                           toQt(std::get<std::string>(ops::fieldOf(one, usual).data))};
    };
    for (const ValueMap& one : list) {
        QStringList texts;
        if (key == "properties") {
            texts = propertyTexts(one);
        } else if (key == "appearances") {
            QStringList shows;
            if (!model::textOf(one, "item").empty()) shows << toQt(model::textOf(one, "item"));
            if (model::valueOf(one, "tint") != nullptr) shows << tr("a tint");
            if (!model::textOf(one, "badge").empty()) shows << tr("“%1”").arg(toQt(model::textOf(one, "badge")));
            if (model::boolOf(one, "hides", false)) shows << tr("nothing");
            const std::string when = model::textOf(one, "when");
            texts << (when.empty() ? tr("always") : toQt(when)) << shows.join(", ");
        } else {
            texts << toQt(model::textOf(one, "label"))
                  << toQt(model::textOf(one, "does", "next") + " " + model::textOf(one, "property"));
        }
        new QTreeWidgetItem(entries_, texts);
    }
    for (const ValueMap& one : above) {
        auto* row = new QTreeWidgetItem(entries_, propertyTexts(one));
        row->setText(0, tr("%1  ← %2").arg(row->text(0), toQt(parentName())));
        for (int c = 0; c < 3; ++c) row->setForeground(c, editor_.theme().faint);
        row->setToolTip(0, tr("Inherited from %1; what is changed here, is changed for %2 alone")
                               .arg(toQt(parentName()), toQt(subject_.name)));
    }
    if (entries_->topLevelItemCount() > 0) entries_->setCurrentItem(entries_->topLevelItem(static_cast<int>(at_)));
    constexpr int kFewest = 2, kMost = 5;
    const int row = std::max(entries_->sizeHintForRow(0), 24);
    entries_->setFixedHeight(entries_->header()->sizeHint().height() + 4 +
                             row * std::clamp(entries_->topLevelItemCount(), kFewest, kMost));
    filling_ = false;
}

/// What there is to choose from: kinds to inherit from, record types to lead to.
void KindsWindow::offer(PropertyShown& shown) const {
    shown.property.type = model::PropertyType::Choice;
    shown.choices = {{"", tr("none").toStdString()}};
    if (shown.property.name == "inherits") {
        for (const model::Kind& kind : editor_.session().library().kinds())
            if (kind.name != subject_.name) shown.choices.push_back({kind.name, kind.name});
    } else {
        for (const auto& [name, type] : editor_.session().library().recordTypes())
            shown.choices.push_back({name, type.label});
    }
    shown.property.choices = shown.choices;
}

/// A field of the form as it is filled in: by the editor of what it holds, with what there is to choose from.
PropertyShown KindsWindow::shownField(const model::Property& f) const {
    const ValueMap values = entry();
    const bool ofProperty = listKey() == "properties";
    PropertyShown s;
    s.property = f;
    s.value = ops::fieldOf(values, f);
    s.choices = f.choices;
    s.own = model::valueOf(values, f.name) != nullptr;
    if (ofProperty) {
        if (auto choices = ops::fieldChoices(values, f, allProperties()); !choices.empty()) {
            s.property.type = model::PropertyType::Choice;
            s.property.choices = s.choices = std::move(choices);
        }
        if (const auto own = f.name == "default" ? ops::defaultField(values) : std::nullopt) {
            const model::Value* said = model::valueOf(values, f.name);
            s.property = *own;
            s.value = said != nullptr ? *said : model::defaultOf(*own);
            s.choices = own->choices;
        }
    }
    if (f.name == "kinds")
        for (const model::Kind& kind : editor_.session().library().kinds()) s.choices.push_back({kind.name, kind.name});
    s.isCondition = ops::isCondition(f);
    if (s.isCondition) s.asked = ops::askedBy(values, allProperties());
    if (f.name == "inherits" || (f.name == "records" && ofProperty)) offer(s);
    return s;
}

void KindsWindow::refreshForm() {
    std::vector<PropertyShown> shown;
    const bool any = listKey().empty() || entries_->topLevelItemCount() > 0;
    const ValueMap values = entry();
    for (const model::Property& f : any ? form() : std::vector<model::Property>{}) {
        // A field that is filled in is shown also where it means nothing, so that it can be emptied.
        const bool filled = model::valueOf(values, f.name) != nullptr;
        if (listKey() == "properties" && !filled && !ops::fieldFits(values, f)) continue;
        shown.push_back(shownField(f));
    }
    rows_->show(shown);
}

bool KindsWindow::write(const std::string& what, const ValueMap& own,
                        const std::map<std::string, std::string>& renamed) {
    ops::Migration report;
    const Subject subject = subject_;  // refreshing, while it is written, may turn to another
    const bool done = run(what + " of " + subject.name, [&](edit::Draft& draft) -> Status {
        if (subject.isRecordType) return ops::setRecordType(draft, subject.name, own, renamed);
        auto migrated = ops::setKind(draft, subject.name, own, renamed);
        if (!migrated) return tl::unexpected(migrated.error());
        report = std::move(*migrated);
        return {};
    });
    QStringList lines;
    if (report.renamed > 0) lines << tr("%1 values stand under the new name.").arg(report.renamed);
    if (report.retyped > 0) lines << tr("%1 values were read as the new type.").arg(report.retyped);
    if (report.aside > 0) {
        lines << tr("%1 values fit no more and are kept aside with their objects:").arg(report.aside);
        for (std::size_t i = 0; i < std::min<std::size_t>(report.lines.size(), 4); ++i) lines << toQt(report.lines[i]);
    }
    report_->setText(lines.join('\n'));
    refresh();
    return done;
}

void KindsWindow::setField(const QString& name,
                           const std::function<base::Result<model::Value>(const model::Property&)>& to) {
    const auto place = std::find_if(form().begin(), form().end(),
                                    [&](const model::Property& f) { return f.name == name.toStdString(); });
    if (place == form().end()) return;
    const ValueMap before = entry();
    auto value = to(*place);
    auto after = value ? ops::withField(before, *place, *value) : base::Result<ValueMap>(tl::unexpected(value.error()));
    if (!after) {
        editor_.report(tl::unexpected(after.error()));
        return refreshForm();
    }
    std::map<std::string, std::string> renamed;
    if (listKey() == "properties" && place->name == "name")
        renamed[model::textOf(before, "name")] = model::textOf(*after, "name");
    const std::string what = "Set " + place->label;
    if (listKey().empty()) return (void)write(what, *after, renamed);
    auto list = ops::listOf(own(), listKey());
    if (at_ >= list.size()) {  // an inherited one is said anew here
        if (place->name == "name") {
            editor_.report(base::fail(base::ErrorCode::BadInput,
                                      "An inherited property keeps its key: rename it where it comes from."));
            return refreshForm();
        }
        at_ = list.size();
        list.emplace_back();
    }
    list[at_] = std::move(*after);
    write(what, ops::withList(own(), listKey(), list), renamed);
}

}  // namespace app
