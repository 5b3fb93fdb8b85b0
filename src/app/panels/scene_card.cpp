#include "app/panels/scene_card.h"

#include <QVBoxLayout>

#include "app/names.h"
#include "base/text.h"
#include "edit/scene_list.h"
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
    layout->addStretch();
}

void SceneCard::refresh() {
    if (!editor_.isOpen() || !isVisibleTo(parentWidget())) return;
    const bool isScene = !model::prefabOf(editor_.sceneName());
    sceneFold_->setVisible(isScene);
    if (isScene) scene_->show(&editor_.scene().settings());
    const model::ProjectFacts& facts = editor_.session().project();
    project_->show(&facts);
    for (FieldsForm* form : {scene_, project_}) form->setEnabled(editor_.session().readOnlyReason().empty());
}

}  // namespace app
