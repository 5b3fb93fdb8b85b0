#include "app/panels/take_in_page.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/long_work.h"
#include "base/files.h"
#include "base/text.h"
#include "edit/session.h"
#include "hand/receiver.h"

namespace app {

namespace {

constexpr std::size_t kMostRows = 2000;
constexpr int kObject = Qt::UserRole;

QTreeWidget* rowsOf(const char* name, const QString& accessible, const QStringList& heads) {
    auto* tree = new QTreeWidget;
    tree->setObjectName(QLatin1String(name));
    tree->setAccessibleName(accessible);
    tree->setHeaderLabels(heads);
    tree->setRootIsDecorated(false);
    tree->setUniformRowHeights(true);
    tree->setEditTriggers(QAbstractItemView::NoEditTriggers);
    return tree;
}

}  // namespace

TakeInPage::TakeInPage(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    head->addWidget(file_ = label({}, "takeInFile"));
    head->addWidget(label(tr("by"), "faint"));
    head->addWidget(recipes_ = new QComboBox);
    recipes_->setObjectName("takeInRecipe");
    recipes_->setAccessibleName(tr("Recipe by which it is read"));
    recipes_->setToolTip(tr("The recipe that wrote the list, or what its columns seem to be by their names"));
    head->addStretch();
    auto* cancel = button<QPushButton>("takeInCancel", tr("Cancel"), tr("Nothing is taken in"));
    head->addWidget(cancel);
    head->addWidget(
        accept_ = button<QPushButton>("takeInAccept", tr("Take in"), tr("Writes it into the scene, as one step")));
    accept_->setProperty("primary", true);
    whole->addLayout(head);
    auto* second = new QHBoxLayout;
    second->addWidget(summary_ = label({}, "takeInSummary"), 1);
    second->addWidget(removeGone_ = new QCheckBox);
    removeGone_->setObjectName("takeInRemove");
    second->addWidget(despite_ = new QCheckBox);
    despite_->setObjectName("takeInDespite");
    whole->addLayout(second);
    auto* split = new QSplitter(Qt::Horizontal);
    split->setChildrenCollapsible(false);
    split->addWidget(columns_ = rowsOf("takeInColumns", tr("Columns"), {tr("Column"), tr("First value"), tr("Is")}));
    split->addWidget(names_ =
                         rowsOf("takeInNames", tr("Names that no item has"), {tr("No item"), tr("Times"), tr("Is")}));
    split->addWidget(rows_ = rowsOf("takeInRows", tr("What would be otherwise"),
                                    {tr("What"), tr("Entry"), tr("Object"), tr("Field"), tr("Before"), tr("After")}));
    split->setStretchFactor(2, 3);
    split->setSizes({300, 230, 520});
    whole->addWidget(split, 1);
    connect(cancel, &QPushButton::clicked, this, &TakeInPage::finished);
    connect(accept_, &QPushButton::clicked, this, &TakeInPage::accept);
    connect(despite_, &QCheckBox::toggled, this,
            [this] { accept_->setEnabled((plan_.problems.empty() || despite_->isChecked()) && problem_.empty()); });
    connect(recipes_, &QComboBox::activated, this,
            [this] { show(path_, recipes_->currentData().toString().toStdString()); });
    connect(rows_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* row) {
        if (const auto id = base::parseObjectId(row->data(0, kObject).toString().toStdString()))
            if (editor_.scene().find(*id) != kNoSlot) editor_.select({*id});
    });
}

void TakeInPage::show(const QString& file, const std::string& recipe) {
    path_ = file;
    learnt_.clear();
    problem_.clear();
    file_->setText(QFileInfo(file).fileName());
    file_->setToolTip(file);
    recipes_->clear();
    recipes_->addItem(tr("its columns’ names"), QString());
    for (const auto& [name, map] : editor_.session().library().recipes)
        recipes_->addItem(toQt(model::textOf(map, "label", name)), toQt(name));
    recipes_->setCurrentIndex(std::max(0, recipes_->findData(toQt(recipe))));
    guessed_ = recipe.empty();
    auto bytes = base::readFile(file.toStdString(), base::most::kTable);
    const std::string shown = QFileInfo(file).fileName().toStdString();
    if (!bytes) {
        problem_ = bytes.error().message;
    } else if (guessed_) {
        auto found = hand::guessed(*bytes, shown);
        if (found)
            recipe_ = std::move(*found);
        else
            problem_ = found.error().message;
    } else {
        std::vector<std::string> problems;
        auto found = hand::recipeNamed(editor_.session().library(), recipe, problems);
        if (found) recipe_ = std::move(*found);
        if (!problems.empty()) problem_ = recipe + ": " + problems.front();
    }
    if (bytes) bytes_ = std::move(*bytes);
    fillColumns();
    plan();
}

void TakeInPage::plan() {
    plan_ = {};
    list_ = {};
    if (problem_.empty()) {
        hand::Recipe recipe = recipe_;
        for (const auto& [theirs, ours] : learnt_)
            for (const hand::Field& field : recipe.fields)
                if (!field.names.empty()) recipe.read[field.names][theirs] = ours;
        std::string wrong;
        const auto look = [&](base::Progress&) {
            auto list = hand::read(recipe, bytes_, QFileInfo(path_).fileName().toStdString());
            if (!list) return wrong = list.error().message, void();
            list_ = std::move(*list);
            const hand::Source source{editor_.scene(), editor_.session().library(),
                                      [this](base::ObjectId id) { return editor_.session().prefabName(id); }};
            plan_ = hand::planTakeIn(source, editor_.session(), recipe, list_);
        };
        constexpr std::size_t kLong = 500'000;  // bytes that take longer than a moment
        if (base::Progress unseen; bytes_.size() < kLong)
            look(unseen);
        else
            onWorker(editor_.workOver(), tr("Looking at the list"), look);
        if (!wrong.empty()) {
            summary_->setText(QStringLiteral("▲ ") + toQt(wrong));
            accept_->setEnabled(false);
            fillNames();
            fillRows();
            return;
        }
        summary_->setText(
            tr("%1 new · %2 changed · %3 as they were · %4 not in the list%5")
                .arg(plan_.added)
                .arg(plan_.changed.size())
                .arg(plan_.same)
                .arg(plan_.gone.size())
                .arg(plan_.problems.empty() ? QString() : tr(" · ▲ %1 wrong").arg(plan_.problems.size())));
    } else {
        summary_->setText(QStringLiteral("▲ ") + toQt(problem_));
    }
    removeGone_->setText(tr("Remove those not in it"));
    removeGone_->setVisible(!plan_.gone.empty());
    despite_->setText(tr("Leave out what is wrong"));
    despite_->setVisible(!plan_.problems.empty());
    accept_->setEnabled((plan_.problems.empty() || despite_->isChecked()) && problem_.empty() &&
                        editor_.session().readOnlyReason().empty());
    fillNames();
    fillRows();
}

void TakeInPage::fillColumns() {
    columns_->clear();
    columns_->setVisible(guessed_ && problem_.empty());
    if (!guessed_ || !problem_.empty()) return;
    const auto list = hand::read(recipe_, bytes_, QFileInfo(path_).fileName().toStdString());
    for (std::size_t i = 0; i < recipe_.fields.size(); ++i) {
        auto* row = new QTreeWidgetItem(columns_, {toQt(recipe_.fields[i].name)});
        if (list)
            for (const hand::ReadEntry& entry : list->entries)
                if (entry.values[i]) {
                    std::string text;
                    if (const auto* words = std::get_if<std::string>(&entry.values[i]->data)) text = *words;
                    double room = 0;
                    if (const double* number = model::asNumber(*entry.values[i], room)) text = base::shortest(*number);
                    row->setText(1, toQt(text));
                    break;
                }
        auto* is = new QComboBox;
        is->setObjectName(QString("takeInIs.%1").arg(i));
        is->setAccessibleName(tr("What the column %1 is").arg(toQt(recipe_.fields[i].name)));
        is->setEditable(true);
        is->addItem(tr("(not read)"), "scene");
        for (const hand::FieldSource& source : hand::fieldSources())
            if (source.reads) is->addItem(QString::fromUtf8(source.key), QString::fromUtf8(source.key));
        is->setCurrentText(toQt(recipe_.fields[i].is));
        columns_->setItemWidget(row, 2, is);
        connect(is, &QComboBox::currentTextChanged, this, [this, is, i](const QString& text) {
            const int known = is->findText(text);
            recipe_.fields[i].is = (known >= 0 ? is->itemData(known).toString() : text).toStdString();
            plan();
        });
    }
    for (int column : {0, 1}) columns_->resizeColumnToContents(column);
}

void TakeInPage::fillNames() {
    if (filling_) return;
    names_->clear();
    std::map<std::string, std::size_t> all;
    for (const auto& [table, names] : plan_.unknown)
        for (const auto& [name, n] : names) all[name] += n;
    for (const auto& [name, ours] : learnt_) all.try_emplace(name, 0);
    names_->setVisible(!all.empty());
    for (const auto& [name, n] : all) {
        auto* row = new QTreeWidgetItem(names_, {toQt(name), n > 0 ? QString::number(n) : QString()});
        auto* is = new QComboBox;
        is->setObjectName("takeInItem." + toQt(name));
        is->setAccessibleName(tr("The item that %1 is").arg(toQt(name)));
        is->addItem(tr("no item"), QString());
        editor_.session().library().eachItem([&](base::Name key, const model::Item& item) {
            if (!item.isSolid) is->addItem(toQt(item.label), toQt(editor_.session().names().text(key)));
        });
        is->model()->sort(0);
        const auto held = learnt_.find(name);
        is->setCurrentIndex(is->findData(held == learnt_.end() ? QString() : toQt(held->second)));
        names_->setItemWidget(row, 2, is);
        connect(is, &QComboBox::activated, this, [this, is, name = name] {
            learnt_[name] = is->currentData().toString().toStdString();
            if (learnt_[name].empty()) learnt_.erase(name);
            filling_ = true;  // the field one works in stays
            plan();
            filling_ = false;
        });
    }
    for (int column : {0, 1}) names_->resizeColumnToContents(column);
}

void TakeInPage::fillRows() {
    rows_->clear();
    std::size_t left = kMostRows;
    const auto add = [&](const QString& what, std::size_t entry, base::ObjectId id, const QStringList& rest) {
        if (left == 0) return;
        --left;
        const Slot s = id.value != 0 ? editor_.scene().find(id) : kNoSlot;
        QStringList cells = {what, entry > 0 ? QString::number(entry) : QString(),
                             s != kNoSlot ? toQt(editor_.scene().nameText(s)) : QString()};
        auto* row = new QTreeWidgetItem(rows_, cells + rest);
        row->setData(0, kObject, toQt(base::toText(id)));
        for (int column = 0; column < rows_->columnCount(); ++column) row->setToolTip(column, row->text(column));
    };
    for (const hand::ListProblem& problem : plan_.problems)
        add(tr("▲ wrong"), problem.row, {}, {toQt(problem.field), {}, toQt(problem.message)});
    for (const hand::TakenChange& change : plan_.changes)
        add(tr("≠ changed"), change.row, change.id, {toQt(change.field), toQt(change.before), toQt(change.after)});
    for (const model::ObjectRecord& record : plan_.written.records)
        add(tr("+ new"), 0, {}, {{}, {}, toQt(editor_.session().names().text(record.name))});
    for (const base::ObjectId id : plan_.gone) add(tr("− not in it"), 0, id, {});
    for (const std::string& told : plan_.told) add(tr("· told"), 0, {}, {{}, {}, toQt(told)});
    for (int column = 0; column < 5; ++column) rows_->resizeColumnToContents(column);
}

bool TakeInPage::accept() {
    plan();  // the scene may have changed since it was looked at
    if (!problem_.empty() || (!plan_.problems.empty() && !despite_->isChecked())) return false;
    const std::string name = QFileInfo(path_).fileName().toStdString();
    const hand::TakeInChoice choice{removeGone_->isChecked() && !plan_.gone.empty(), despite_->isChecked()};
    std::string table;
    for (const hand::Field& field : recipe_.fields)
        if (!field.names.empty()) table = field.names;
    const bool done = editor_.run("Take in " + name, [&](edit::Draft& draft) -> base::Status {
        if (base::Status taken = hand::takeIn(draft, plan_, choice); !taken) return taken;
        if (guessed_ || learnt_.empty()) return {};
        return hand::remember(draft, recipe_.name, table, learnt_);
    });
    if (!done) return false;
    editor_.say(tr("Taken in: %1 new, %2 changed.").arg(plan_.added).arg(plan_.changed.size()));
    Q_EMIT finished();
    return true;
}

}  // namespace app
