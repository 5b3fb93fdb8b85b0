#include "app/dialogs/script_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"

namespace app {

ScriptCard::ScriptCard(QWidget* parent, Editor& editor, Scripts& scripts, const script::Offer& offer)
    : SideCard(parent, 300), editor_(editor), scripts_(scripts), offer_(offer), form_(scripts.formOf(offer)) {
    setAttribute(Qt::WA_DeleteOnClose);
    QVBoxLayout* layout = rows();
    auto* title = new QLabel(QString::fromStdString(offer_.spec.name));
    title->setObjectName("cardTitle");
    layout->addWidget(title);
    auto* help = new QLabel(QString::fromStdString(offer_.spec.help));
    help->setObjectName("quiet");
    help->setWordWrap(true);
    help->setVisible(!offer_.spec.help.empty());
    layout->addWidget(help);
    layout->addWidget(fields_ = new PropertyRows(editor));
    fields_->setObjectName("scriptForm");
    layout->addWidget(where_ = new QToolButton);
    where_->setObjectName("scriptWhere");
    where_->setToolTip(tr("Which scenes it works on: one step over all that are ticked"));
    where_->setPopupMode(QToolButton::InstantPopup);
    where_->setVisible(editor.session().project().sceneNames.size() > 1);
    scenes_ = new QMenu(where_);
    scenes_->addAction(tr("All scenes"), this, [this] {
        for (QAction* action : scenes_->actions())
            if (action->isCheckable()) action->setChecked(true);
        refreshWhere();
    });
    scenes_->addAction(tr("Only the one shown"), this, [this] {
        for (QAction* action : scenes_->actions())
            if (action->isCheckable()) action->setChecked(action->text().toStdString() == editor_.sceneName());
        refreshWhere();
    });
    scenes_->addSeparator();
    for (const std::string& name : editor.session().project().sceneNames) {
        QAction* action = scenes_->addAction(QString::fromStdString(name), this, [this] { refreshWhere(); });
        action->setCheckable(true);
        action->setChecked(name == editor.sceneName());
    }
    where_->setMenu(scenes_);
    refreshWhere();
    foot()->addWidget(problem_ = new QLabel);
    problem_->setObjectName("scriptProblem");
    problem_->setWordWrap(true);
    problem_->hide();
    auto* buttons = new QHBoxLayout;
    auto button = [&](const QString& text, const QString& tip, const char* name) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        b->setToolTip(tip);
        buttons->addWidget(b);
        return b;
    };
    do_ = button(tr("Do it"), tr("Runs it as one step (Ctrl+Enter)"), "scriptDo");
    do_->setDefault(true);
    preview_ = button(tr("Preview"), tr("Shows what it would do, and does nothing"), "scriptPreview");
    buttons->addStretch();
    auto* closes = button(tr("Close"), tr("Closes the form; its values are kept (Esc)"), "scriptClose");
    foot()->addLayout(buttons);
    connect(do_, &QPushButton::clicked, this, [this] { act(true); });
    connect(preview_, &QPushButton::clicked, this, [this] { act(false); });
    connect(closes, &QPushButton::clicked, this, &QWidget::close);
    auto field = [this](const QString& name) -> const model::Property* {
        for (const model::Property& p : offer_.spec.form)
            if (p.name == name.toStdString()) return &p;
        return nullptr;
    };
    connect(fields_, &PropertyRows::typed, this, [this, field](const QString& name, const QString& text) {
        const model::Property* p = field(name);
        for (const auto& [key, now] : form_) {
            if (p == nullptr || key != p->name) continue;
            auto value = ops::typedValue(*p, text.toStdString(), now);
            if (value) return set(name, *value);
            problem_->setText(QString::fromStdString(value.error().message));
            problem_->show();
            return refresh();
        }
    });
    connect(fields_, &PropertyRows::chosen, this, &ScriptCard::set);
    connect(fields_, &PropertyRows::resetAsked, this, [this, field](const QString& name) {
        if (const model::Property* p = field(name)) set(name, model::defaultOf(*p));
    });
    connect(fields_, &PropertyRows::placeAsked, this, [this](const QString& name) {
        editor_.say(tr("Click the place in the view."));
        editor_.asking().askPoint([this, name](const base::Vec3& at) {
            set(name, {model::ValueList{{at.x}, {at.y}, {at.z}}});
            editor_.asking().askPoint({});
        });
    });
    connect(fields_, &PropertyRows::pointAsked, this, [this, field](const QString& name) {
        const model::Property* p = field(name);
        if (p == nullptr) return;
        editor_.say(tr("Click the object in the view or the Roster."));
        editor_.asking().askObject([this, p = *p](Slot s) { return ops::mayLinkTo(editor_.scene(), p, s); },
                                   [this, name](base::ObjectId id) { set(name, model::objectLink(id)); });
    });
    connect(fields_, &PropertyRows::targetsAsked, this, [this, field](const QString& name, QMenu* menu) {
        const model::Property* p = field(name);
        int left = 30;
        for (Slot s : editor_.scene().subtree(model::kNoSlot)) {
            if (p == nullptr || left == 0) break;
            if (!ops::mayLinkTo(editor_.scene(), *p, s)) continue;
            --left;
            const auto text = editor_.scene().nameText(s);
            menu->addAction(toQt(text), this,
                            [this, name, id = editor_.scene().id(s)] { set(name, model::objectLink(id)); });
        }
        if (left == 30) menu->addAction(tr("Nothing in the scene fits"))->setEnabled(false);
    });
    connect(fields_, &PropertyRows::goTo, this, [this](base::ObjectId id) { editor_.select({id}); });
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        refresh();
        scripts_.drawForm(offer_, form_);
    });
    connect(&editor_, &Editor::historyChanged, this, [this] { scripts_.drawForm(offer_, form_); });
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    connect(&scripts_, &Scripts::shelfChanged, this, [this] {
        // The file was changed: what it declares now, or nothing any more.
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
    });
    connect(&scripts_, &Scripts::ran, this, [this](const ScriptJob& done, const script::Outcome& outcome) {
        if (done.name != QString::fromStdString(offer_.spec.name)) return;
        problem_->setText(QString::fromStdString(outcome.message.substr(0, outcome.message.find('\n'))));
        problem_->setVisible(!outcome.done());
        place();
    });
    refresh();
    show();
    raise();
    scripts_.drawForm(offer_, form_);
    if (auto* first = fields_->findChild<QWidget*>(QString(), Qt::FindChildrenRecursively); first != nullptr)
        fields_->setFocus();
}

ScriptCard::~ScriptCard() {
    editor_.asking().askPoint({});
    scripts_.clearMarks();
}

void ScriptCard::set(const QString& name, const model::Value& value) {
    for (const model::Property& p : offer_.spec.form) {
        if (p.name != name.toStdString()) continue;
        auto fine = model::linksObject(p.type) ? base::Result<model::Value>(value) : model::fitted(p, value);
        problem_->setVisible(!fine);
        if (!fine) problem_->setText(QString::fromStdString(fine.error().message));
        for (auto& [key, now] : form_)
            if (fine && key == p.name) now = *fine;
    }
    scripts_.keepForm(offer_, form_);
    refresh();
    scripts_.drawForm(offer_, form_);
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
    if (event->key() == Qt::Key_Escape) {
        close();
        return;
    }
    // In a field it means the value; elsewhere, or with Ctrl, the whole.
    const bool inField = fields_->isAncestorOf(focusWidget()) && (event->modifiers() & Qt::ControlModifier) == 0;
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && !inField) return act(true);
    QFrame::keyPressEvent(event);
}

}  // namespace app
