#include "app/panels/scene_card.h"

#include <QVBoxLayout>

#include "app/names.h"
#include "app/shell/checks.h"
#include "base/text.h"
#include "check/verbs.h"
#include "edit/scene_list.h"
#include "edit/session.h"
#include "model/project_facts.h"
#include "model/scene_fields.h"

namespace app {

SceneCard::SceneCard(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    sceneFold_ = new FoldCard("scene", tr("Scene"));
    scene_ = new FieldsForm(editor_, model::sceneFields(), [this](const model::Property& property, const auto& set) {
        model::SceneSettings settings = editor_.scene().settings();
        if (Status done = set(&settings); !done) return done;
        editor_.run(
            "Set " + base::lowered(property.label) + " of " + editor_.documentName(editor_.sceneName()).toStdString(),
            [&](edit::Draft& draft) { return draft.setSettings(settings); });
        return Status{};
    });
    scene_->setObjectName("sceneForm");
    sceneFold_->inside()->addWidget(scene_);
    layout->addWidget(sceneFold_);
    auto* fold = new FoldCard("project", tr("Project"));
    project_ =
        new FieldsForm(editor_, model::projectFields(), [this](const model::Property& property, const auto& set) {
            editor_.run("Set " + base::lowered(property.label) + " of the project", [&](edit::Draft& draft) {
                return edit::changeFacts(draft, [&](model::ProjectFacts& facts) { return set(&facts); });
            });
            return Status{};
        });
    project_->setObjectName("projectForm");
    fold->inside()->addWidget(project_);
    layout->addWidget(fold);
    makeLimits();
    layout->addStretch();
}

namespace {

/// Rules whose numbers are the project's limits, rather than how a check looks.
constexpr const char* kLimits[] = {"budget", "area-budget", "name-pattern", "item-folder"};

const check::Rule* ruleNamed(const Editor& editor, std::string_view id) {
    return check::ruleOf(const_cast<Editor&>(editor).checks().rules(), id);
}

}  // namespace

void SceneCard::makeLimits() {
    auto* fold = new FoldCard("limits", tr("Limits"), tr("of the project"));
    limits_ = new Form(editor_, [this](const model::Property& p, const auto& value) { return setLimit(p, value); });
    limits_->setObjectName("limitsForm");
    fold->inside()->addWidget(limits_);
    layout()->addWidget(fold);
}

void SceneCard::showLimits() {
    std::vector<PropertyShown> shown;
    for (const char* id : kLimits) {
        const check::Rule* rule = ruleNamed(editor_, id);
        if (rule == nullptr) continue;
        const check::Parameters now = check::parametersIn(editor_.session(), rule->id, rule->parameters);
        const model::ValueMap values = now.values();
        for (const model::Property& parameter : rule->parameters) {
            PropertyShown one;
            one.property = parameter;
            one.property.name = rule->id + "." + parameter.name;
            one.property.category = rule->label;
            one.choices = parameter.choices;
            if (const model::Value* value = model::valueOf(values, parameter.name)) one.value = *value;
            one.own = one.value != model::defaultOf(parameter);
            shown.push_back(std::move(one));
        }
    }
    limits_->show(std::move(shown));
}

Status SceneCard::setLimit(const model::Property& property, const std::optional<model::Value>& value) {
    const std::size_t dot = property.name.find('.');
    const check::Rule* rule = ruleNamed(editor_, property.name.substr(0, dot));
    if (rule == nullptr) return {};
    editor_.run("Set " + base::lowered(property.label) + " of the project", [&](edit::Draft& draft) {
        return check::setParameter(draft, *rule, property.name.substr(dot + 1),
                                   value.value_or(model::defaultOf(property)));
    });
    return {};
}

void SceneCard::refresh() {
    if (!editor_.isOpen() || !isVisibleTo(parentWidget())) return;
    const bool isScene = !model::prefabOf(editor_.sceneName());
    sceneFold_->setVisible(isScene);
    const model::ProjectFacts& facts = editor_.session().project();
    project_->show(&facts);
    showLimits();
    std::vector<model::Choice> guises = {{"", tr("none").toStdString()}};
    for (const auto& [name, guise] : editor_.session().library().guises()) guises.push_back({name, name});
    scene_->offerOnly("guise", guises);
    if (isScene) scene_->show(&editor_.scene().settings());
    for (Form* form : std::initializer_list<Form*>{scene_, project_, limits_})
        form->setEnabled(editor_.session().readOnlyReason().empty());
}

}  // namespace app
