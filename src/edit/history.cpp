#include "edit/history.h"

#include <algorithm>

namespace edit {

const std::string& StepInfo::scene() const {
    static const std::string none;
    return scenes.empty() ? none : scenes.front();
}

bool StepInfo::touches(const std::string& document) const {
    return std::find(scenes.begin(), scenes.end(), document) != scenes.end();
}

void StepInfo::touch(const std::string& document, bool first) {
    if (!touches(document)) scenes.insert(first ? scenes.begin() : scenes.end(), document);
}

History::History(std::vector<StepInfo> steps, StepId present, std::unordered_map<StepId, StepId> redoChild)
    : steps_(std::move(steps)), redoChild_(std::move(redoChild)), present_(present) {
    for (std::size_t i = 0; i < steps_.size(); ++i) index_[steps_[i].id] = i;
}

const StepInfo* History::step(StepId id) const {
    auto place = index_.find(id);
    return place == index_.end() ? nullptr : &steps_[place->second];
}

std::optional<StepId> History::undoTarget() const {
    const StepInfo* info = step(present_);
    if (info == nullptr || info->barrier) return std::nullopt;
    return info->parent;
}

std::optional<StepId> History::redoTarget() const {
    auto place = redoChild_.find(present_);
    if (place == redoChild_.end()) return std::nullopt;
    return place->second;
}

void History::append(StepInfo info) {
    info.parent = present_;
    redoChild_[present_] = info.id;
    present_ = info.id;
    index_[info.id] = steps_.size();
    steps_.push_back(std::move(info));
}

void History::moveTo(StepId id) {
    present_ = id;
    for (const StepInfo* info = step(id); info != nullptr; info = step(info->parent))
        redoChild_[info->parent] = info->id;
}

History::Path History::path(StepId from, StepId to) const {
    Path path;
    // A parent's id is always smaller, so the larger of the two cannot be the common ancestor.
    while (from != to) {
        if (from > to) {
            path.back.push_back(from);
            from = step(from)->parent;
        } else {
            path.forward.push_back(to);
            to = step(to)->parent;
        }
    }
    std::reverse(path.forward.begin(), path.forward.end());
    return path;
}

StepId History::lastTouch(StepId at, const std::string& scene) const {
    for (const StepInfo* info = step(at); info != nullptr; info = step(info->parent))
        if (info->touches(scene)) return info->id;
    return kRoot;
}

std::vector<StepId> History::line() const {
    std::vector<StepId> all;
    for (const StepInfo* info = step(present_); info != nullptr; info = step(info->parent)) all.push_back(info->id);
    std::reverse(all.begin(), all.end());
    for (auto next = redoChild_.find(present_); next != redoChild_.end(); next = redoChild_.find(next->second))
        all.push_back(next->second);
    return all;
}

}  // namespace edit
