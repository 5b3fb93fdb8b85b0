#include "edit/follow_arrays.h"

#include <algorithm>
#include <set>
#include <unordered_set>

#include "edit/copies.h"
#include "edit/names.h"
#include "model/array.h"
#include "model/facets/array.h"

namespace edit {

using model::ObjectRecord;
using model::Scene;

namespace {

bool isArray(const Scene& scene, Slot s) {
    return scene.facet<model::Array>(s);
}

/// The arrays of which something in the first object was changed, the innermost first.
class Touched {
  public:
    explicit Touched(const Scene& scene) : scene_(scene) {}

    void add(const model::ChangeSet& set) {
        for (const model::Change& change : set.changes) std::visit([this](const auto& c) { look(c); }, change);
    }
    std::vector<ObjectId> innermostFirst() const {
        std::vector<ObjectId> ids;
        for (const auto& [depth, id] : found_) ids.push_back(id);
        return ids;
    }

  private:
    void look(const model::Existence& c) {
        for (const ObjectRecord& r : c.objects) below(r.parent);
    }
    void look(const model::MoveInTree& c) {
        for (const model::TreePlace& place : c.before) below(place.parent);
        for (ObjectId id : c.ids) object(id);
    }
    void look(const model::SetSettings&) {}
    void look(const model::SetEntries&) {}
    template <class Rows>
    void look(const Rows& c) {
        for (ObjectId id : c.ids) object(id);
    }
    void object(ObjectId id) {
        if (const Slot s = scene_.find(id); s != kNoSlot) climb(s);
    }
    void below(ObjectId parent) {
        if (parent) object(parent);
    }
    void climb(Slot s) {
        for (Slot above = scene_.parent(s); above != kNoSlot && seen_.insert(s).second;
             s = above, above = scene_.parent(s))
            if (isArray(scene_, above) && scene_.firstChild(above) == s)
                found_.insert({-depth(above), scene_.id(above)});
    }
    int depth(Slot s) const {
        int depth = 0;
        for (; s != kNoSlot; s = scene_.parent(s)) ++depth;
        return depth;
    }

    const Scene& scene_;
    std::unordered_set<Slot> seen_;
    std::set<std::pair<int, ObjectId>> found_;
};

/// The same tree of the same objects?
bool sameTree(const Scene& a, Slot topA, const Scene& b, Slot topB) {
    const auto rowsA = a.ownSubtree(topA), rowsB = b.ownSubtree(topB);
    if (rowsA.size() != rowsB.size()) return false;
    for (std::size_t i = 0; i < rowsA.size(); ++i) {
        if (a.id(rowsA[i]) != b.id(rowsB[i])) return false;
        if (i > 0 && a.id(a.parent(rowsA[i])) != b.id(b.parent(rowsB[i]))) return false;
    }
    return true;
}

/// Trees of the same shape, whoever is in them: where each row's parent stands in it.
std::vector<std::size_t> shapeOf(const Scene& scene, const std::vector<Slot>& rows) {
    std::unordered_map<Slot, std::size_t> at;
    std::vector<std::size_t> parents;
    for (Slot s : rows) {
        parents.push_back(at.empty() ? 0 : at.at(scene.parent(s)));
        at.emplace(s, at.size());
    }
    return parents;
}

const std::shared_ptr<const model::PrefabLink>& linkOf(const ObjectRecord& r) {
    static const std::shared_ptr<const model::PrefabLink> none;
    return r.detail ? r.detail->prefab.link : none;
}

bool sameLink(const ObjectRecord& a, const ObjectRecord& b) {
    return linkOf(a) == linkOf(b) || (linkOf(a) && linkOf(b) && *linkOf(a) == *linkOf(b));
}

/// What an original and its copies have in common: all but name and place, and for the top one the pose.
const model::PartSet& common() {
    static const model::PartSet parts = model::PartSet::all().without(model::part::kName | model::part::kPlace);
    return parts;
}
const model::PartSet& commonOfTop() {
    static const model::PartSet parts = common().without(model::part::kPose);
    return parts;
}

/// What lies below a copy is made anew, like what lies below the original.
Status makeAgain(Draft& draft, Slot original, ObjectId copy) {
    const Scene& scene = draft.scene();
    std::vector<ObjectId> old;
    for (Slot s = scene.firstChild(scene.find(copy)); s != kNoSlot; s = scene.nextSibling(s))
        old.push_back(scene.id(s));
    if (!old.empty())
        if (Status gone = draft.remove(old); !gone) return gone;
    std::vector<ObjectRecord> fresh;
    CopyOf copyOf;
    appendCopiesBelow(draft.session(), scene, original, copy, fresh, copyOf);
    linkCopies(scene, copyOf, fresh);
    return fresh.empty() ? Status{} : draft.create(fresh);
}

/// Own rows, without what lies inside an instance at the top.
bool belowAlike(const Scene& scene, Slot original, Slot copy) {
    const auto a = scene.ownSubtree(original), b = scene.ownSubtree(copy);
    if (a.size() != b.size() || shapeOf(scene, a) != shapeOf(scene, b)) return false;
    for (std::size_t i = 1; i < a.size(); ++i) {
        const ObjectRecord x = scene.record(a[i]), y = scene.record(b[i]);
        if (!model::differenceOf(x, y, common()).parts.empty() || !sameLink(x, y)) return false;
    }
    return true;
}

bool topAlike(const ObjectRecord& original, const ObjectRecord& copy) {
    return model::differenceOf(original, copy, commonOfTop()).parts.empty() && sameLink(original, copy);
}

class Follower {
  public:
    Follower(Draft& draft, const Scene& before, Slot arrayBefore, Slot arrayNow)
        : draft_(draft), before_(before), now_(draft.scene()), was_(arrayBefore), is_(arrayNow) {}

    Status run() {
        const auto members = model::membersOf(before_, was_);
        if (members.empty()) return {};
        const Slot original = now_.firstChild(is_);
        if (before_.id(members[0].slot) != now_.id(original)) return {};  // another one is the first now
        const bool sameInside = sameTree(before_, members[0].slot, now_, original);
        for (std::size_t i = 1; i < members.size(); ++i) {
            const Slot copy = now_.find(before_.id(members[i].slot));
            if (copy == kNoSlot || now_.parent(copy) != is_ || now_.protectedInTree(copy)) continue;
            place(members[0].slot, original, members[i], copy);
            follow(members[0].slot, original, members[i].slot, copy, commonOfTop());
            if (sameInside)
                inside(members[0].slot, original, members[i].slot, copy);
            else if (isAlike(before_, members[0].slot, members[i].slot) &&
                     sameTree(before_, members[i].slot, now_, copy))
                again_.push_back(before_.id(members[i].slot));
        }
        if (Status written = write(); !written) return written;
        for (ObjectId copy : again_)
            if (Status made = makeAgain(draft_, now_.firstChild(is_), copy); !made) return made;
        return {};
    }

  private:
    void place(Slot firstWas, Slot first, const model::ArrayMember& member, Slot copy) {
        const model::Array &a = *before_.facet<model::Array>(was_), &b = *now_.facet<model::Array>(is_);
        if (member.astray || !(a == b)) return;  // who changes the numbers of an array, places its copies
        if (before_.local(firstWas) == now_.local(first) || !(before_.local(member.slot) == now_.local(copy))) return;
        poseIds_.push_back(now_.id(copy));
        poses_.push_back(model::placeInArray(b, member.index, model::sourceOf(b, now_.local(first))));
    }

    /// What changed from `a` to `b` in the original, in a copy that was like it and is as it was.
    void follow(Slot a, Slot b, Slot copyWas, Slot copy, const model::PartSet& common) {
        const ObjectRecord was = before_.record(a), is = now_.record(b);
        model::Difference goes = model::differenceOf(was, is, common);
        const bool link = !sameLink(was, is);
        if (goes.parts.empty() && !link) return;
        const ObjectRecord own = before_.record(copyWas), present = now_.record(copy);
        for (const model::Difference& other :
             {model::differenceOf(was, own, common), model::differenceOf(own, present, common)})
            keepBack(goes, other);
        ObjectRecord wanted = present;
        model::apply(goes, wanted);
        if (link && sameLink(was, own) && sameLink(own, present)) {
            auto detail = wanted.detail ? *wanted.detail : model::Detail{};
            detail.prefab = is.detail ? is.detail->prefab : decltype(detail.prefab){};
            wanted.detail = detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail));
        }
        note(present, wanted);
    }

    static void keepBack(model::Difference& goes, const model::Difference& other) {
        namespace part = model::part;
        goes.parts = goes.parts.without(other.parts.without(part::kProperties));
        if (!goes.parts.has(part::kProperties) || !other.parts.has(part::kProperties)) return;
        const auto named = [&](const std::string& key) {
            return (other.value.detail && model::valueOf(other.value.detail->properties, key) != nullptr) ||
                   std::find(other.goneProperties.begin(), other.goneProperties.end(), key) !=
                       other.goneProperties.end();
        };
        std::erase_if(goes.goneProperties, named);
        if (!goes.value.detail) return;
        model::Detail detail = *goes.value.detail;
        std::erase_if(detail.properties, [&](const auto& p) { return named(p.first); });
        goes.value.detail = std::make_shared<const model::Detail>(std::move(detail));
    }

    void note(const ObjectRecord& present, const ObjectRecord& wanted) {
        if (!(present.local == wanted.local)) poseIds_.push_back(wanted.id), poses_.push_back(wanted.local);
        if (present.kind != wanted.kind) kindIds_.push_back(wanted.id), kinds_.push_back(wanted.kind);
        if (present.item != wanted.item) itemIds_.push_back(wanted.id), items_.push_back(wanted.item);
        if (present.flags != wanted.flags) flagIds_.push_back(wanted.id), flags_.push_back(wanted.flags);
        if (!model::sameDetail(present.detail, wanted.detail))
            detailIds_.push_back(wanted.id), details_.push_back(wanted.detail);
    }

    void inside(Slot a, Slot b, Slot copyWas, Slot copy) {
        const auto rowsA = before_.ownSubtree(a), rowsB = now_.ownSubtree(b), was = before_.ownSubtree(copyWas),
                   is = now_.ownSubtree(copy);
        if (rowsA.size() < 2 || !sameTree(before_, copyWas, now_, copy)) return;
        if (shapeOf(before_, rowsA) != shapeOf(before_, was)) return;
        for (std::size_t i = 1; i < rowsA.size(); ++i) follow(rowsA[i], rowsB[i], was[i], is[i], common());
    }

    Status write() {
        using model::LabelField;
        if (!kindIds_.empty())
            if (Status s = draft_.setLabels(LabelField::Kind, kindIds_, kinds_); !s) return s;
        if (!itemIds_.empty())
            if (Status s = draft_.setLabels(LabelField::Item, itemIds_, items_); !s) return s;
        if (!flagIds_.empty())
            if (Status s = draft_.setFlags(flagIds_, flags_); !s) return s;
        if (!detailIds_.empty())
            if (Status s = draft_.setDetails(detailIds_, details_); !s) return s;
        return poseIds_.empty() ? Status{} : draft_.setTransforms(poseIds_, poses_);
    }

    Draft& draft_;
    const Scene& before_;
    const Scene& now_;
    Slot was_, is_;
    std::vector<ObjectId> poseIds_, kindIds_, itemIds_, flagIds_, detailIds_, again_;
    std::vector<base::Transform> poses_;
    std::vector<base::Name> kinds_, items_;
    std::vector<std::uint8_t> flags_;
    std::vector<model::DetailPtr> details_;
};

/// Asked of a step of many rows: going once through a column costs less than climbing from each of them.
bool mayHoldArrays(const Draft& draft, const std::string& document) {
    constexpr std::size_t kMany = 50;  // of so many objects one has to be changed for it to pay
    std::size_t rows = 0;
    for (const model::ChangeSet& set : draft.changes())
        for (const model::Change& change : set.changes) rows += set.scene == document ? model::rowCount(change) : 0;
    const Scene& scene = draft.scene();
    if (rows * kMany < scene.slotEnd()) return true;
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && isArray(scene, s)) return true;
    return false;
}

Status followIn(Draft& draft, const std::vector<ObjectId>& arrays) {
    // One array's copies can lie in the next one's first object: each is compared with how it was at the beginning.
    const auto before = draft.before();
    if (!before) return tl::unexpected(before.error());
    for (ObjectId id : arrays) {
        const Slot was = before->find(id), is = draft.scene().find(id);
        if (was == kNoSlot || is == kNoSlot || !isArray(*before, was) || !draft.isOwn(id)) continue;
        if (Status followed = Follower(draft, *before, was, is).run(); !followed) return followed;
    }
    return {};
}

}  // namespace

bool isAlike(const Scene& scene, Slot original, Slot copy) {
    return topAlike(scene.record(original), scene.record(copy)) && belowAlike(scene, original, copy);
}

Status makeAlike(Draft& draft, ObjectId original, ObjectId copy) {
    const Scene& scene = draft.scene();
    const ObjectRecord is = scene.record(scene.find(original)), was = scene.record(scene.find(copy));
    if (!topAlike(is, was)) {
        const std::pair<model::LabelField, base::Name> labels[] = {{model::LabelField::Kind, is.kind},
                                                                   {model::LabelField::Item, is.item}};
        if (Status s = draft.setDetails({&copy, 1}, {&is.detail, 1}); !s) return s;
        if (Status s = draft.setFlags({&copy, 1}, {&is.flags, 1}); !s) return s;
        for (const auto& [field, name] : labels)
            if (Status s = draft.setLabels(field, {&copy, 1}, {&name, 1}); !s) return s;
    }
    if (belowAlike(scene, scene.find(original), scene.find(copy))) return {};
    return makeAgain(draft, scene.find(original), copy);
}

Status followArrays(Draft& draft) {
    std::map<std::string, std::vector<ObjectId>> touched;
    const std::string here = draft.scene().name();
    for (const model::ChangeSet& set : draft.changes()) {
        if (model::data::isData(set.scene) || touched.contains(set.scene)) continue;
        if (Status turned = draft.turnTo(set.scene); !turned) return turned;
        if (!mayHoldArrays(draft, set.scene)) continue;
        Touched found(draft.scene());
        for (const model::ChangeSet& of : draft.changes())
            if (of.scene == set.scene) found.add(of);
        touched[set.scene] = found.innermostFirst();
    }
    for (const auto& [document, arrays] : touched) {
        if (arrays.empty()) continue;
        if (Status turned = draft.turnTo(document); !turned) return turned;
        if (Status followed = followIn(draft, arrays); !followed) return followed;
    }
    return draft.turnTo(here);
}

}  // namespace edit
