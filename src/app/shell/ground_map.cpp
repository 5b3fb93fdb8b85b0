#include "app/shell/ground_map.h"

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/sight.h"
#include "rehearse/world.h"

namespace app {

namespace {
constexpr int kAfterMs = 1200;  // an edit seldom comes alone
}

GroundMap::GroundMap(Editor& editor, LevelNow levelNow) : editor_(editor), levelNow_(std::move(levelNow)) {
    timer_.setSingleShot(true);
    connect(&timer_, &QTimer::timeout, this, &GroundMap::make);
    connect(&editor_, &Editor::sceneShown, this, [this] {
        patches_.reset();
        seen_.reset();
        if (shown_) timer_.start(0);
    });
    connect(&editor_, &Editor::historyChanged, this, [this] {
        if (shown_ && editor_.isOpen()) timer_.start(kAfterMs);
    });
}

GroundMap::~GroundMap() {
    if (progress_) progress_->cancel();
    if (worker_.joinable()) worker_.join();
}

void GroundMap::close() {
    timer_.stop();
    if (progress_) progress_->cancel();
    if (worker_.joinable()) worker_.join();
    beingMade_ = false;
    patches_.reset();
    seen_.reset();
}

void GroundMap::show(bool on) {
    shown_ = on;
    if (on && !patches_) make();
    Q_EMIT changed();
}

void GroundMap::make() {
    if (!editor_.isOpen() || !shown_) return;
    if (editor_.showsLive()) return timer_.start(kAfterMs);
    if (beingMade_) {
        stale_ = true;
        return;
    }
    if (worker_.joinable()) worker_.join();
    const auto level = levelNow_();
    if (level->starts.empty()) return editor_.say(tr("There is no start: the map says what can be come to from one."));
    beingMade_ = true;
    stale_ = false;
    progress_ = std::make_shared<base::Progress>();
    Q_EMIT changed();
    worker_ = std::thread([this, level, progress = progress_] {
        auto ground = rehearse::Ground::make(*level, *progress);
        std::optional<std::vector<rehearse::Patch>> made;
        if (ground) made = (*ground)->reach(level->starts.front().feet, rehearse::World(*level));
        const std::string why = ground ? std::string() : ground.error().message;
        QMetaObject::invokeMethod(
            this,
            [this, progress, made = std::move(made), why]() mutable {
                if (!progress->cancelled()) take(std::move(made), why);
            },
            Qt::QueuedConnection);
    });
}

void GroundMap::take(std::optional<std::vector<rehearse::Patch>> made, const std::string& why) {
    beingMade_ = false;
    if (worker_.joinable()) worker_.join();
    if (made) patches_ = std::move(made);
    if (!why.empty()) editor_.say(toQt(why));
    showSeenFrom(seenFrom_);
    if (stale_) make();
}

void GroundMap::showSeenFrom(const std::optional<base::Vec3>& eye) {
    seenFrom_ = eye;
    seen_.reset();
    const query::SceneIndex* index = editor_.isOpen() ? editor_.sight().index() : nullptr;
    if (eye && patches_ && index != nullptr)
        seen_ = rehearse::seenFrom(*patches_, *eye, [&](const base::Vec3& a, const base::Vec3& b) {
            const double length = glm::length(b - a);
            if (length < 1e-6) return false;
            const auto hit =
                index->pick(editor_.scene(), {a, (b - a) / length}, [&](Slot s) { return !editor_.isHidden(s); });
            return hit && hit->distance < length - 0.05;
        });
    Q_EMIT changed();
}

}  // namespace app
