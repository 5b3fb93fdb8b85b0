#include "check/gather.h"

#include "check/names.h"
#include "check/rule.h"

namespace check {

namespace {

void appendUses(const model::Scene& scene, std::unordered_set<ObjectId>& used) {
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && scene.isInstance(s)) model::prefabsOf(*scene.detail(s)->prefab, used);
}

}  // namespace

const Media::All& Media::all() const {
    static const All none;
    if (own_ == nullptr) return none;
    std::call_once(own_->looked, [this] { own_->all = own_->look(); });
    return own_->all;
}

std::shared_ptr<const Facts> gatherFacts(edit::Session& session, std::shared_ptr<const std::vector<Rule>> rules,
                                         query::Shapes shapes, Media media, bool uses, const Facts* before,
                                         bool thorough) {
    auto facts = std::make_shared<Facts>();
    facts->rules = std::move(rules);
    facts->library = session.library();
    facts->project = session.project();
    facts->scenes = session.project().sceneNames;
    for (const auto& [id, scene] : session.definitions()) {
        facts->definitions[id] = std::make_shared<const model::Scene>(*scene);
        facts->prefabNames[id] = session.prefabName(id);
    }
    facts->media = std::move(media);
    facts->thorough = thorough;
    facts->shapes = std::move(shapes);
    std::vector<std::string> known;  // the project's files were looked at when it was opened
    const std::span<const Rule> all(*facts->rules);
    const auto& entries = session.entries(std::string(model::data::kChecks));
    if (all.size() > builtInRules().size())
        (void)settingsFrom(entries, all.subspan(builtInRules().size()), facts->problems);
    facts->settings = settingsFrom(entries, all, known);
    if (!uses && before != nullptr) {
        facts->usedPrefabs = before->usedPrefabs;
        facts->knowsUses = before->knowsUses;
    }
    if (!uses) return facts;
    std::unordered_set<ObjectId> used;
    for (const std::string& name : session.project().sceneNames)
        if (const auto scene = session.scene(name)) appendUses(**scene, used);
    for (const auto& [id, scene] : session.definitions()) appendUses(*scene, used);
    facts->usedPrefabs.insert(used.begin(), used.end());
    facts->knowsUses = true;
    return facts;
}

}  // namespace check
