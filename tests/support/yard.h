#pragma once
// Blocks that fall: bodies of every role on a yard, and runs over it.
#include "model/facets/body.h"
#include "ops/facets.h"
#include "rehearse/run.h"
#include "support/blocks.h"

namespace test {

class Yard : public Blocks {
  public:
    model::Walker walker{};
    model::Craft craft{};
    bool inCraft = false;

    /// Puts something that falls.
    base::ObjectId loose(const std::string& item, const base::Vec3& at, const base::Vec3& turn = {},
                         const base::Vec3& size = base::Vec3(1.0), model::Body body = {}) {
        const base::ObjectId id = put(item, at, turn, size);
        body.role = model::Body::Role::Loose;
        give(id, body);
        return id;
    }
    base::ObjectId guided(const std::string& item, const base::Vec3& at, const base::Vec3& turn = {},
                          const base::Vec3& size = base::Vec3(1.0)) {
        const base::ObjectId id = put(item, at, turn, size);
        model::Body body;
        body.role = model::Body::Role::Guided;
        body.shape = model::Body::Shape::Mesh;
        give(id, body);
        return id;
    }
    base::ObjectId start(const base::Vec3& at, const std::string& called = "Here") {
        model::ObjectRecord r;
        r.id = session().random().nextId();
        r.name = name(called);
        r.kind = name("Walker start");
        r.local.position = at;
        edit::Draft draft(session(), "first", "Start");
        if (!draft.create({&r, 1}) || !draft.commit()) qFatal("cannot add a start");
        return r.id;
    }
    void remove(base::ObjectId id) {
        edit::Draft draft(session(), "first", "Remove");
        if (!draft.remove({&id, 1}) || !draft.commit()) qFatal("cannot remove");
    }
    template <class Facet>
    void give(base::ObjectId id, const Facet& facet) {
        edit::Draft draft(session(), "first", "Give");
        const model::Slot s = scene().find(id);
        model::Detail detail = scene().detail(s) ? *scene().detail(s) : model::Detail{};
        detail.put(std::optional<Facet>(facet));
        if (auto set = draft.setDetails({&id, 1},
                                        std::vector<model::DetailPtr>{std::make_shared<const model::Detail>(detail)});
            !set)
            qFatal("%s", set.error().message.c_str());
        if (auto kept = draft.commit(); !kept) qFatal("%s", kept.error().message.c_str());
    }
    base::ObjectId zone(const base::Vec3& at, const base::Vec3& size) {
        model::Zone zone;
        zone.size = size;
        const base::ObjectId id = put("", at);
        give(id, zone);
        return id;
    }
    std::shared_ptr<const rehearse::Level> level() {
        return std::make_shared<const rehearse::Level>(rehearse::levelOf(
            std::make_shared<const model::Scene>(scene()), {session().library(), shapes(), walker, craft, inCraft}));
    }
    /// A run that begins with feet there.
    std::unique_ptr<rehearse::Run> run(const base::Vec3& feet = {0, 0, 100}, double yaw = 0) {
        return std::make_unique<rehearse::Run>(level(), rehearse::Start{{}, feet, yaw});
    }
};

/// So long the same is pressed.
inline void press(rehearse::Run& run, rehearse::Input input, double seconds) {
    for (int i = 0; i < static_cast<int>(seconds * rehearse::kStepsPerSecond + 0.5); ++i) run.step(input);
}
inline rehearse::Input ahead(double yaw, std::uint8_t keys = 0) {
    rehearse::Input input;
    input.ahead = 100;
    input.yaw = rehearse::hundredths(yaw);
    input.keys = keys;
    return input;
}
inline std::size_t thingIndex(const rehearse::Run& run, base::ObjectId id) {
    for (std::size_t i = 0; i < run.level().things.size(); ++i)
        if (run.level().things[i].id == id) return i;
    qFatal("no such thing");
}

}  // namespace test
