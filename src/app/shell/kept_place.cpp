#include "app/shell/kept_place.h"

#include "app/shell/tool_fields.h"
#include "base/files.h"
#include "io/json_text.h"
#include "io/local_folder.h"
#include "model/data.h"
#include "model/field_values.h"
#include "model/value_reader.h"

namespace app {

namespace {

constexpr const char* kFile = "window.json";
constexpr double kFarthest = 1e7;

model::ValueMap mapIn(const model::ValueMap& all, std::string_view key) {
    const model::Value* value = model::valueOf(all, key);
    const auto* map = value != nullptr ? std::get_if<model::ValueMap>(&value->data) : nullptr;
    return map != nullptr ? *map : model::ValueMap{};
}

std::string arrayKey(model::Array::Shape shape) {
    return "array" + std::to_string(static_cast<int>(shape));
}

/// Within what a camera can be; nothing: it cannot.
std::optional<KeptPlace::Look> lookIn(const model::ValueMap& map) {
    const model::Value* eye = model::valueOf(map, "eye");
    const auto at = eye != nullptr ? model::vectorIn<base::Vec3>(*eye) : std::nullopt;
    if (!at) return std::nullopt;
    KeptPlace::Look look;
    render::Camera& camera = look.camera;
    camera.eye = *at;
    camera.yawDegrees = model::numberOf(map, "yaw", 0);
    camera.pitchDegrees = model::numberOf(map, "pitch", 0);
    camera.heightMetres = model::numberOf(map, "height", 0);
    look.fourPanes = model::boolOf(map, "fourPanes", false);
    const bool usable = glm::length(camera.eye) < kFarthest && std::abs(camera.yawDegrees) < 1e6 &&
                        std::abs(camera.pitchDegrees) <= 90 && camera.heightMetres >= 0 &&
                        camera.heightMetres < kFarthest;
    return usable ? std::optional(look) : std::nullopt;
}

model::Value valueOf(const KeptPlace::Look& look) {
    const render::Camera& camera = look.camera;
    return {model::ValueMap{{"eye", model::vectorValue(camera.eye)},
                            {"yaw", {camera.yawDegrees}},
                            {"pitch", {camera.pitchDegrees}},
                            {"height", {camera.heightMetres}},
                            {"fourPanes", {look.fourPanes}}}};
}

}  // namespace

KeptPlace KeptPlace::read(const std::filesystem::path& project) {
    KeptPlace kept;
    const auto local = io::localFolder(project);
    const auto text = local ? base::readFile(*local / kFile, base::most::kSmall) : base::Result<std::string>("");
    const auto json = io::parseJson(text.value_or(""), kFile);
    if (!json || !json->is_object()) return kept;
    const model::ValueMap all = io::toValues(*json);
    kept.scene = model::textOf(all, "scene");
    for (const auto& [name, value] : mapIn(all, "cameras"))
        if (const auto* map = std::get_if<model::ValueMap>(&value.data))
            if (const auto look = lookIn(*map)) kept.looks[name] = *look;
    kept.desk = model::textOf(all, "desk");
    kept.deskHeight = static_cast<int>(std::clamp(model::numberOf(all, "deskHeight", 0), 0.0, 4000.0));
    for (const auto& [field, value] : mapIn(all, "filters"))
        if (const auto* filter = std::get_if<std::string>(&value.data)) kept.filters[field] = *filter;
    kept.recentItems = model::textsOf(all, "recentItems");
    const model::ValueMap prefab = mapIn(all, "prefab");
    kept.prefab = {model::textOf(prefab, "folder"), model::textOf(prefab, "name"),
                   static_cast<int>(std::clamp(model::numberOf(prefab, "height", 0), 0.0, 3.0)),
                   static_cast<int>(std::clamp(model::numberOf(prefab, "place", 4), 0.0, 8.0))};
    kept.tools_ = mapIn(all, "tools");
    return kept;
}

void KeptPlace::write(const std::filesystem::path& project) const {
    const auto local = io::localFolder(project);
    if (!local || !base::isFolder(*local)) return;
    model::ValueMap cameras, texts;
    model::ValueList recent;
    for (const auto& [name, look] : looks) cameras.emplace_back(name, valueOf(look));
    for (const auto& [field, filter] : filters) texts.emplace_back(field, model::Value{filter});
    for (const std::string& item : recentItems) recent.push_back({item});
    const model::ValueMap plan = {{"folder", {prefab.folder}},
                                  {"name", {prefab.name}},
                                  {"height", {std::int64_t{prefab.height}}},
                                  {"place", {std::int64_t{prefab.place}}}};
    const model::ValueMap all = {
        {"scene", {scene}},   {"cameras", {cameras}},    {"desk", {desk}},   {"deskHeight", {std::int64_t{deskHeight}}},
        {"filters", {texts}}, {"recentItems", {recent}}, {"prefab", {plan}}, {"tools", {tools_}}};
    (void)base::writeFileWhole(*local / kFile, io::toText(io::toJson(model::Value{all}), 2) + "\n");
}

void KeptPlace::giveTools(Tools& tools) const {
    std::vector<std::string> ignored;  // what cannot be is as it was
    model::takeValues(toolFields(), &tools, tools_, ignored);
    for (model::Array& array : tools.arrays) {
        model::Array kept = array;
        model::takeValues(model::Array::type().fields, &kept, mapIn(tools_, arrayKey(array.shape)), ignored);
        if (kept.shape == array.shape && ops::usableArray(kept)) array = kept;
    }
    if (tools.varying.smallest > tools.varying.largest) tools.varying.largest = tools.varying.smallest;
    if (tools.broom.chances.smallest > tools.broom.chances.largest)
        tools.broom.chances.largest = tools.broom.chances.smallest;
    if (tools.broom.flattest > tools.broom.steepest) tools.broom.steepest = tools.broom.flattest;
}

void KeptPlace::takeTools(const Tools& tools) {
    Tools kept = tools;
    if (kept.pivot == ops::PivotMode::Picked) kept.pivot = ops::PivotMode::Base;
    tools_.clear();
    for (const model::Member& member : toolFields().members)
        if (const auto value = member.get(&kept)) tools_.emplace_back(member.property.name, *value);
    for (const model::Array& array : tools.arrays) {
        model::ValueMap map;
        model::putValues(model::Array::type().fields, &array, map);
        tools_.emplace_back(arrayKey(array.shape), model::Value{std::move(map)});
    }
}

}  // namespace app
