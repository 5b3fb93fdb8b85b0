#include "app/dialogs/script_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "edit/session.h"
#include "model/value_reader.h"
#include "ops/properties.h"

namespace app {

ScriptCard::ScriptCard(QWidget* parent, Editor& editor, Scripts& scripts, const script::Offer& offer)
    : SideCard(parent, 300), editor_(editor), scripts_(scripts), offer_(offer), form_(scripts.formOf(offer)) {
    setAttribute(Qt::WA_DeleteOnClose);
    rows()->addWidget(label(QString::fromStdString(offer_.spec.name), "cardTitle"));
    QLabel* help = label(QString::fromStdString(offer_.spec.help));
    help->setWordWrap(true);
    help->setVisible(!offer_.spec.help.empty());
    rows()->addWidget(help);
    makeForm();
    makeWhere();
    makeFoot();
    listen();
    refresh();
    show();
    raise();
    scripts_.drawForm(offer_, form_);
    if (!offer_.spec.form.empty()) fields_->setFocus();
}

void ScriptCard::makeForm() {
    fields_ = new Form(editor_, [this](const model::Property& property, const auto& value) {
        return set(property, value.value_or(model::defaultOf(property)));
    });
    fields_->setObjectName("scriptForm");
    rows()->addWidget(fields_);
    // By name: the file may declare another form meanwhile.
    auto named = [this](const QString& name, auto what) {
        for (const model::Property& p : offer_.spec.form)
            if (p.name == name.toStdString()) return what(model::Property(p));
    };
    connect(fields_, &PropertyRows::placeAsked, this,
            [this, named](const QString& name) { named(name, [this](const auto& p) { pickPlace(p); }); });
    connect(fields_, &PropertyRows::pointAsked, this,
            [this, named](const QString& name) { named(name, [this](const auto& p) { pickObject(p); }); });
    connect(fields_, &PropertyRows::targetsAsked, this, [this, named](const QString& name, QMenu* menu) {
        named(name, [this, menu](const auto& p) { listTargets(p, menu); });
    });
    connect(fields_, &Form::refused, this, [this](const QString& why) {
        problem_->setText(why);
        problem_->show();
        place();
    });
    connect(fields_, &PropertyRows::goTo, this, [this](base::ObjectId id) { editor_.select({id}); });
}

void ScriptCard::makeWhere() {
    rows()->addWidget(where_ = new QToolButton);
    where_->setObjectName("scriptWhere");
    where_->setToolTip(tr("Which scenes it works on: one step over all that are ticked"));
    where_->setPopupMode(QToolButton::InstantPopup);
    where_->setVisible(editor_.session().project().sceneNames.size() > 1);
    scenes_ = new QMenu(where_);
    auto tick = [this](const QString& text, auto chosen) {
        scenes_->addAction(text, this, [this, chosen] {
            for (QAction* action : scenes_->actions())
                if (action->isCheckable()) action->setChecked(chosen(action->text().toStdString()));
            refreshWhere();
        });
    };
    tick(tr("All scenes"), [](const std::string&) { return true; });
    tick(tr("Only the one shown"), [this](const std::string& name) { return name == editor_.sceneName(); });
    scenes_->addSeparator();
    for (const std::string& name : editor_.session().project().sceneNames) {
        QAction* action = scenes_->addAction(QString::fromStdString(name), this, [this] { refreshWhere(); });
        action->setCheckable(true);
        action->setChecked(name == editor_.sceneName());
    }
    where_->setMenu(scenes_);
    refreshWhere();
}

void ScriptCard::makeFoot() {
    foot()->addWidget(problem_ = label({}, "scriptProblem"));
    problem_->setWordWrap(true);
    problem_->hide();
    auto* buttons = new QHBoxLayout;
    auto button = [&](const QString& text, const QString& tip, const char* name, auto run) {
        auto* b = app::button<QPushButton>(name, text, tip);
        buttons->addWidget(b);
        connect(b, &QPushButton::clicked, this, run);
        return b;
    };
    do_ = button(tr("Do it"), tr("Runs it as one step (Ctrl+Enter)"), "scriptDo", [this] { act(true); });
    do_->setDefault(true);
    preview_ =
        button(tr("Preview"), tr("Shows what it would do, and does nothing"), "scriptPreview", [this] { act(false); });
    buttons->addStretch();
    button(tr("Close"), tr("Closes the form; its values are kept (Esc)"), "scriptClose", [this] { (void)close(); });
    foot()->addLayout(buttons);
}

void ScriptCard::listen() {
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        refresh();
        scripts_.drawForm(offer_, form_);
    });
    connect(&editor_, &Editor::historyChanged, this, [this] { scripts_.drawForm(offer_, form_); });
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    connect(&scripts_, &Scripts::shelfChanged, this, &ScriptCard::readAgain);
    connect(&scripts_, &Scripts::ran, this, [this](const ScriptJob& done, const script::Outcome& outcome) {
        if (done.name != QString::fromStdString(offer_.spec.name)) return;
        problem_->setText(QString::fromStdString(outcome.message.substr(0, outcome.message.find('\n'))));
        problem_->setVisible(!outcome.done());
        place();
    });
}

void ScriptCard::readAgain() {
    for (const script::Offer& now : scripts_.shelf().offers()) {
        if (now.id != offer_.id) continue;
        offer_ = now;
        model::ValueMap form = scripts_.formOf(offer_);
        for (auto& [name, value] : form)
            for (const auto& [had, old] : form_)
                for (const model::Property& p : offer_.spec.form)
                    if (had == name && p.name == name && model::fitted(p, old)) value = old;
        form_ = std::move(form);
        return refresh();
    }
    (void)close();  // it is offered no more
}

void ScriptCard::pickPlace(const model::Property& property) {
    editor_.say(tr("Click the place in the view."));
    editor_.asking().askPoint([this, property](const base::Vec3& at) {
        editor_.report(set(property, model::vectorValue(at)));
        editor_.asking().askPoint({});
    });
}

void ScriptCard::pickObject(const model::Property& property) {
    editor_.say(tr("Click the object in the view or the Roster."));
    editor_.asking().askObject([this, property](Slot s) { return ops::mayLinkTo(editor_.scene(), property, s); },
                               [this, property](base::ObjectId id) { set(property, model::objectLink(id)); });
}

void ScriptCard::listTargets(const model::Property& property, QMenu* menu) {
    constexpr int kMost = 30;
    int left = kMost;
    for (Slot s : editor_.scene().subtree(model::kNoSlot)) {
        if (left == 0) break;
        if (!ops::mayLinkTo(editor_.scene(), property, s)) continue;
        --left;
        menu->addAction(toQt(editor_.scene().nameText(s)), this,
                        [this, property, id = editor_.scene().id(s)] { set(property, model::objectLink(id)); });
    }
    if (left == kMost) menu->addAction(tr("Nothing in the scene fits"))->setEnabled(false);
}

ScriptCard::~ScriptCard() {
    editor_.asking().askPoint({});
    scripts_.clearMarks();
}

Status ScriptCard::set(const model::Property& property, const model::Value& value) {
    auto fine = model::linksObject(property.type) ? base::Result<model::Value>(value) : model::fitted(property, value);
    if (!fine) return tl::unexpected(fine.error());
    problem_->hide();
    for (auto& [key, now] : form_)
        if (key == property.name) now = *fine;
    scripts_.keepForm(offer_, form_);
    refresh();
    scripts_.drawForm(offer_, form_);
    return {};
}

void ScriptCard::refresh() {
    std::vector<PropertyShown> shown;
    for (const model::Property& p : offer_.spec.form) {
        if (!p.shownIf.empty()) {
            const auto condition = model::parseCondition(p.shownIf);
            const model::Value* by = nullptr;
            for (const auto& [key, value] : form_)
                if (condition && key == condition->property) by = &value;
            if (condition && !model::holds(*condition, by)) continue;
        }
        PropertyShown row{p, {}, p.choices, false, false, {}};
        for (const auto& [key, value] : form_)
            if (key == p.name) row.value = value;
        row.own = row.value && !(*row.value == model::defaultOf(p));
        shown.push_back(std::move(row));
    }
    fields_->show(shown);
    const bool may = scripts_.isEnabled(offer_);
    do_->setEnabled(may);
    preview_->setEnabled(may);
    place();
}

std::vector<std::string> ScriptCard::chosenScenes() const {
    std::vector<std::string> names;
    for (const QAction* action : scenes_->actions())
        if (action->isCheckable() && action->isChecked()) names.push_back(action->text().toStdString());
    return names;  // none: the one shown
}

void ScriptCard::refreshWhere() {
    const auto names = chosenScenes();
    const bool here = names.empty() || (names.size() == 1 && names.front() == editor_.sceneName());
    where_->setText(here                ? tr("In this scene ▾")
                    : names.size() == 1 ? tr("In %1 ▾").arg(QString::fromStdString(names.front()))
                                        : tr("In %1 scenes ▾").arg(names.size()));
}

ScriptJob ScriptCard::job() {
    ScriptJob job = scripts_.jobOf(offer_, form_);
    job.scenes = chosenScenes();
    return job;
}

void ScriptCard::act(bool keep) {
    if (QWidget* field = focusWidget()) field->clearFocus();  // what is being typed is taken
    scripts_.keepForm(offer_, form_);
    const bool done = keep ? scripts_.run(job()) : scripts_.showPreview(job());
    if (done && keep && !offer_.spec.stays) close();
}

void ScriptCard::keyPressEvent(QKeyEvent* event) {
    // In a field it means the value; elsewhere, or with Ctrl, the whole.
    const bool inField = fields_->isAncestorOf(focusWidget()) && (event->modifiers() & Qt::ControlModifier) == 0;
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && !inField) return act(true);
    SideCard::keyPressEvent(event);
}

}  // namespace app
