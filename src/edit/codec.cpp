#include "edit/codec.h"

#include <fmt/format.h>
#include <zstd.h>

#include <algorithm>
#include <bit>
#include <unordered_map>

#include "edit/byte_stream.h"
#include "model/facet_values.h"

namespace edit {
namespace {

// 1 had no unknown keys inside lights, cameras, sun and first view; 2 no bookmarks and saved selections;
// 3 no tints and arrays; 4 no solids, no prefabs, and no head in settings; 5 no project data; 6 no bodies, points,
// zones and surfaces.
constexpr std::uint8_t kVersion = 7;
constexpr std::size_t kCompressAbove = 400;
constexpr std::size_t kLargestPayload = std::size_t{1} << 32;

// One column of a Transform: ten doubles.
double& lane(base::Transform& t, int i) {
    if (i < 3) return t.position[i];
    if (i == 3) return t.rotation.x;
    if (i == 4) return t.rotation.y;
    if (i == 5) return t.rotation.z;
    if (i == 6) return t.rotation.w;
    return t.scale[i - 7];
}
double lane(const base::Transform& t, int i) {
    return lane(const_cast<base::Transform&>(t), i);
}

class Encoder {
  public:
    explicit Encoder(const base::NameTable& names) : names_(names) {}

    std::string finish(const StepData& data) {
        out_.count(data.changes.size());
        for (const model::ChangeSet& set : data.changes) {
            out_.text(set.scene);
            out_.count(set.changes.size());
            for (const model::Change& change : set.changes) {
                out_.byte(static_cast<std::uint8_t>(change.index()));
                std::visit([&](const auto& c) { put(c); }, change);
            }
        }
        ids(data.selectionBefore);
        ids(data.selectionAfter);
        ByteWriter whole;
        whole.byte(kVersion);
        whole.count(used_.size());
        for (base::Name name : used_) whole.text(names_.text(name));
        whole.bytes += out_.bytes;
        return std::move(whole.bytes);
    }

  private:
    void name(base::Name n) {
        auto [place, isNew] = local_.try_emplace(n, used_.size());
        if (isNew) used_.push_back(n);
        out_.count(place->second);
    }
    void ids(const std::vector<base::ObjectId>& all) {
        out_.count(all.size());
        std::vector<std::uint64_t> words(all.size());
        for (std::size_t i = 0; i < all.size(); ++i) words[i] = all[i].value;
        out_.words(words);
    }
    void transforms(const std::vector<base::Transform>& values, const std::vector<base::Transform>* xorWith) {
        std::vector<std::uint64_t> words(values.size());
        for (int column = 0; column < 10; ++column) {
            for (std::size_t i = 0; i < values.size(); ++i) {
                words[i] = std::bit_cast<std::uint64_t>(lane(values[i], column));
                if (xorWith != nullptr) words[i] ^= std::bit_cast<std::uint64_t>(lane((*xorWith)[i], column));
            }
            out_.words(words);
        }
    }
    void vec(const base::Vec3& v) {
        for (int i = 0; i < 3; ++i) out_.real(v[i]);
    }
    void value(const model::Value& v) {
        out_.byte(static_cast<std::uint8_t>(v.data.index()));
        struct Visitor {
            Encoder& e;
            void operator()(bool b) { e.out_.byte(b ? 1 : 0); }
            void operator()(std::int64_t i) { e.out_.count(static_cast<std::uint64_t>(i)); }
            void operator()(double d) { e.out_.real(d); }
            void operator()(const std::string& s) { e.out_.text(s); }
            void operator()(const model::ValueList& list) {
                e.out_.count(list.size());
                for (const auto& entry : list) e.value(entry);
            }
            void operator()(const model::ValueMap& map) { e.map(map); }
        };
        std::visit(Visitor{*this}, v.data);
    }
    void map(const model::ValueMap& map) {
        out_.count(map.size());
        for (const auto& [key, entry] : map) {
            out_.text(key);
            value(entry);
        }
    }
    void detail(const model::DetailPtr& d) {
        if (!d) return out_.byte(0);
        out_.byte(static_cast<std::uint8_t>(1 | (d->light ? 2 : 0) | (d->camera ? 4 : 0) | (d->note ? 8 : 0) |
                                            (d->tint ? 16 : 0) | (d->array ? 32 : 0) | (d->solid ? 64 : 0) |
                                            (d->prefab ? 128 : 0)));
        std::uint8_t more = 0, bit = 1;
        model::eachValueFacet([&](std::string_view, std::uint32_t, auto member) {
            if ((*d).*member) more |= bit;
            bit = static_cast<std::uint8_t>(bit << 1);
        });
        out_.byte(more);
        if (d->light) {
            out_.byte(static_cast<std::uint8_t>(d->light->shape));
            vec(d->light->colour);
            for (double x :
                 {d->light->intensity, d->light->reachMetres, d->light->innerDegrees, d->light->outerDegrees})
                out_.real(x);
            out_.text(d->light->unknownKeys);
        }
        if (d->camera) {
            for (double x : {d->camera->verticalDegrees, d->camera->nearMetres, d->camera->farMetres}) out_.real(x);
            out_.text(d->camera->unknownKeys);
        }
        if (d->note) out_.text(d->note->text);
        if (d->tint) vec(*d->tint);
        if (d->array) array(*d->array);
        if (d->solid) {
            out_.byte(static_cast<std::uint8_t>(d->solid->shape));
            vec(d->solid->size);
            out_.count(static_cast<std::uint64_t>(d->solid->parts));
            out_.text(d->solid->unknownKeys);
        }
        if (d->prefab) link(*d->prefab);
        model::eachValueFacet([&](std::string_view, std::uint32_t, auto member) {
            if ((*d).*member) map(model::toValues(*((*d).*member)));
        });
        map(d->properties);
        out_.text(d->unknownKeys);
    }
    void id(base::ObjectId one) { ids({one}); }
    void record(const model::ObjectRecord& r) {
        ids({r.id, r.parent, r.before});
        for (int i = 0; i < 10; ++i) out_.real(lane(r.local, i));
        name(r.name);
        name(r.kind);
        name(r.item);
        out_.byte(r.flags);
        detail(r.detail);
    }
    void link(const model::PrefabLink& l) {
        id(l.of);
        out_.count(l.changed.size());
        for (const model::Difference& d : l.changed) {
            out_.count(d.parts);
            record(d.value);
            out_.count(d.goneProperties.size());
            for (const std::string& key : d.goneProperties) out_.text(key);
        }
        ids(l.removed);
        out_.count(l.added.size());
        for (const model::ObjectRecord& r : l.added) record(r);
        out_.text(l.unknownKeys);
    }
    void array(const model::Array& a) {
        out_.byte(static_cast<std::uint8_t>(a.shape));
        for (int n : a.counts) out_.count(static_cast<std::uint64_t>(n));
        vec(a.spacing);
        for (double x :
             {a.radiusMetres, a.sweepDegrees, a.turnDegrees, a.size, a.jitterMetres, a.jitterDegrees, a.jitterSize})
            out_.real(x);
        out_.count(a.seed);
        out_.text(a.unknownKeys);
    }
    void settings(const model::SceneSettings& s) {
        for (const base::Vec3& v : {s.sunDirection, s.sunColour, s.skyColour, s.groundColour, s.viewFrom, s.viewTo})
            vec(v);
        out_.real(s.sunStrength);
        for (const std::string* keys : {&s.unknownKeys, &s.unknownSunKeys, &s.unknownViewKeys}) out_.text(*keys);
        out_.byte(s.prefab ? 1 : 0);
        if (s.prefab)
            for (const std::string* text : {&s.prefab->name, &s.prefab->folder}) out_.text(*text);
        out_.count(s.bookmarks.size());
        for (const model::Bookmark& b : s.bookmarks) {
            out_.text(b.name);
            vec(b.from);
            vec(b.to);
            out_.real(b.heightMetres);
            out_.text(b.unknownKeys);
        }
        out_.count(s.selections.size());
        for (const model::SavedSelection& kept : s.selections) {
            out_.text(kept.name);
            ids(kept.ids);
            out_.text(kept.unknownKeys);
        }
    }

    void put(const model::Existence& c) {
        out_.byte(c.created ? 1 : 0);
        std::vector<base::ObjectId> column(c.objects.size());
        std::vector<base::Transform> locals(c.objects.size());
        auto put = [&](auto field) {
            for (std::size_t i = 0; i < column.size(); ++i) column[i] = field(c.objects[i]);
            ids(column);
        };
        put([](const model::ObjectRecord& r) { return r.id; });
        put([](const model::ObjectRecord& r) { return r.parent; });
        put([](const model::ObjectRecord& r) { return r.before; });
        for (std::size_t i = 0; i < locals.size(); ++i) locals[i] = c.objects[i].local;
        transforms(locals, nullptr);
        for (const model::ObjectRecord& r : c.objects) {
            name(r.name);
            name(r.kind);
            name(r.item);
            out_.byte(r.flags);
            detail(r.detail);
        }
    }
    void put(const model::SetTransforms& c) {
        ids(c.ids);
        transforms(c.before, nullptr);
        transforms(c.after, &c.before);
    }
    void put(const model::SetLabels& c) {
        out_.byte(static_cast<std::uint8_t>(c.field));
        ids(c.ids);
        for (base::Name n : c.before) name(n);
        for (base::Name n : c.after) name(n);
    }
    void put(const model::SetFlags& c) {
        ids(c.ids);
        for (std::uint8_t f : c.before) out_.byte(f);
        for (std::uint8_t f : c.after) out_.byte(f);
    }
    void put(const model::SetDetails& c) {
        ids(c.ids);
        for (const auto& d : c.before) detail(d);
        for (const auto& d : c.after) detail(d);
    }
    void put(const model::MoveInTree& c) {
        ids(c.ids);
        for (const auto* places : {&c.before, &c.after}) {
            std::vector<base::ObjectId> column(places->size());
            for (std::size_t i = 0; i < column.size(); ++i) column[i] = (*places)[i].parent;
            ids(column);
            for (std::size_t i = 0; i < column.size(); ++i) column[i] = (*places)[i].before;
            ids(column);
        }
    }
    void put(const model::SetEntries& c) {
        out_.count(c.keys.size());
        for (const std::string& key : c.keys) out_.text(key);
        for (const auto* column : {&c.before, &c.after})
            for (const auto& entry : *column) {
                out_.byte(entry ? 1 : 0);
                if (entry) map(*entry);
            }
    }
    void put(const model::SetSettings& c) {
        settings(*c.before);
        settings(*c.after);
    }

    const base::NameTable& names_;
    ByteWriter out_;
    std::vector<base::Name> used_;
    std::unordered_map<base::Name, std::size_t> local_;
};

class Decoder {
  public:
    Decoder(std::string_view bytes, base::NameTable& names) : in_(bytes) {
        version_ = in_.byte();
        if (version_ < 1 || version_ > kVersion) throw MalformedBytes("it is of another version");
        const std::size_t n = in_.countOf(1);
        for (std::size_t i = 0; i < n; ++i) names_.push_back(names.intern(in_.text()));
    }

    StepData whole() {
        StepData data;
        data.changes.resize(in_.countOf(2));
        for (model::ChangeSet& set : data.changes) {
            set.scene = in_.text();
            const std::size_t n = in_.countOf(1);
            for (std::size_t i = 0; i < n; ++i) set.changes.push_back(change());
        }
        data.selectionBefore = ids();
        data.selectionAfter = ids();
        if (!in_.done()) throw MalformedBytes("something follows its end");
        return data;
    }

  private:
    base::Name name() {
        const std::uint64_t i = in_.count();
        if (i >= names_.size()) throw MalformedBytes("a name is not in its table");
        return names_[i];
    }
    std::vector<base::ObjectId> ids() {
        const std::size_t n = in_.countOf(8);
        std::vector<base::ObjectId> all(n);
        const auto words = in_.words(n);
        for (std::size_t i = 0; i < n; ++i) all[i].value = words[i];
        return all;
    }
    std::vector<base::ObjectId> ids(std::size_t wanted) {
        auto all = ids();
        if (all.size() != wanted) throw MalformedBytes("two columns differ in length");
        return all;
    }
    std::vector<base::Transform> transforms(std::size_t n, const std::vector<base::Transform>* xorWith) {
        std::vector<base::Transform> values(n);
        for (int column = 0; column < 10; ++column) {
            const auto words = in_.words(n);
            for (std::size_t i = 0; i < n; ++i) {
                const std::uint64_t other =
                    xorWith != nullptr ? std::bit_cast<std::uint64_t>(lane((*xorWith)[i], column)) : 0;
                lane(values[i], column) = std::bit_cast<double>(words[i] ^ other);
            }
        }
        return values;
    }
    base::Vec3 vec() {
        base::Vec3 v;
        for (int i = 0; i < 3; ++i) v[i] = in_.real();
        return v;
    }
    model::Value value(int depth = 0) {
        if (depth > 100) throw MalformedBytes("a value is nested too deeply");
        switch (in_.byte()) {
            case 0: return {in_.byte() != 0};
            case 1: return {static_cast<std::int64_t>(in_.count())};
            case 2: return {in_.real()};
            case 3: return {std::string(in_.text())};
            case 4: {
                model::ValueList list;
                for (std::size_t n = in_.countOf(1); n > 0; --n) list.push_back(value(depth + 1));
                return {std::move(list)};
            }
            case 5: return {map(depth + 1)};
            default: throw MalformedBytes("a value is of an unknown type");
        }
    }
    model::ValueMap map(int depth) {
        model::ValueMap result;
        for (std::size_t n = in_.countOf(2); n > 0; --n) {
            std::string key(in_.text());
            result.emplace_back(std::move(key), value(depth));
        }
        return result;
    }
    model::DetailPtr detail() {
        const std::uint8_t parts = in_.byte();
        if (parts == 0) return nullptr;
        const std::uint8_t more = version_ > 6 ? in_.byte() : 0;
        auto d = std::make_shared<model::Detail>();
        if ((parts & 2) != 0) {
            auto& light = d->light.emplace();
            light.shape = in_.byte() == 0 ? model::LightShape::Point : model::LightShape::Spot;
            light.colour = vec();
            for (double* x : {&light.intensity, &light.reachMetres, &light.innerDegrees, &light.outerDegrees})
                *x = in_.real();
            if (version_ > 1) light.unknownKeys = in_.text();
        }
        if ((parts & 4) != 0) {
            auto& camera = d->camera.emplace();
            for (double* x : {&camera.verticalDegrees, &camera.nearMetres, &camera.farMetres}) *x = in_.real();
            if (version_ > 1) camera.unknownKeys = in_.text();
        }
        if ((parts & 8) != 0) d->note.emplace().text = in_.text();
        if ((parts & 16) != 0) d->tint = vec();
        if ((parts & 32) != 0) d->array = array();
        if ((parts & 64) != 0) {
            auto& solid = d->solid.emplace();
            solid.shape = static_cast<model::Solid::Shape>(std::min<std::uint8_t>(in_.byte(), 7));
            solid.size = vec();
            solid.parts = static_cast<int>(std::min<std::uint64_t>(in_.count(), 1000));
            solid.unknownKeys = in_.text();
        }
        if ((parts & 128) != 0) d->prefab.link = std::make_shared<const model::PrefabLink>(link());
        std::uint8_t bit = 1;
        model::eachValueFacet([&](std::string_view, std::uint32_t, auto member) {
            std::vector<std::string> problems;
            if ((more & bit) != 0) model::fromValues(map(0), problems, ((*d).*member).emplace());
            if (!problems.empty()) throw MalformedBytes("a facet says what it cannot");
            bit = static_cast<std::uint8_t>(bit << 1);
        });
        d->properties = map(0);
        d->unknownKeys = in_.text();
        return d;
    }
    base::ObjectId id() { return ids(1)[0]; }
    model::ObjectRecord record() {
        model::ObjectRecord r;
        const auto three = ids(3);
        r.id = three[0];
        r.parent = three[1];
        r.before = three[2];
        for (int i = 0; i < 10; ++i) lane(r.local, i) = in_.real();
        r.name = name();
        r.kind = name();
        r.item = name();
        r.flags = in_.byte();
        r.detail = detail();
        return r;
    }
    model::PrefabLink link() {
        if (++depth_ > 100) throw MalformedBytes("instances are nested too deeply");
        model::PrefabLink l;
        l.of = id();
        l.changed.resize(in_.countOf(8));
        for (model::Difference& d : l.changed) {
            d.parts = static_cast<std::uint32_t>(in_.count());
            d.value = record();
            d.goneProperties.resize(in_.countOf(1));
            for (std::string& key : d.goneProperties) key = in_.text();
        }
        l.removed = ids();
        l.added.resize(in_.countOf(8));
        for (model::ObjectRecord& r : l.added) r = record();
        l.unknownKeys = in_.text();
        --depth_;
        return l;
    }
    model::Array array() {
        model::Array a;
        a.shape = static_cast<model::Array::Shape>(std::min<std::uint8_t>(in_.byte(), 2));
        for (int& n : a.counts) n = static_cast<int>(std::clamp<std::uint64_t>(in_.count(), 1, 1'000'000));
        a.spacing = vec();
        for (double* x : {&a.radiusMetres, &a.sweepDegrees, &a.turnDegrees, &a.size, &a.jitterMetres, &a.jitterDegrees,
                          &a.jitterSize})
            *x = in_.real();
        a.seed = in_.count();
        a.unknownKeys = in_.text();
        return a;
    }
    std::shared_ptr<const model::SceneSettings> settings() {
        auto s = std::make_shared<model::SceneSettings>();
        for (base::Vec3* v :
             {&s->sunDirection, &s->sunColour, &s->skyColour, &s->groundColour, &s->viewFrom, &s->viewTo})
            *v = vec();
        s->sunStrength = in_.real();
        s->unknownKeys = in_.text();
        if (version_ > 1)
            for (std::string* keys : {&s->unknownSunKeys, &s->unknownViewKeys}) *keys = in_.text();
        if (version_ > 4 && in_.byte() != 0) {
            auto& head = s->prefab.emplace();
            head.name = in_.text();
            head.folder = in_.text();
        }
        if (version_ > 2) {
            s->bookmarks.resize(in_.countOf(1));
            for (model::Bookmark& b : s->bookmarks) {
                b.name = in_.text();
                b.from = vec();
                b.to = vec();
                b.heightMetres = in_.real();
                b.unknownKeys = in_.text();
            }
            s->selections.resize(in_.countOf(1));
            for (model::SavedSelection& kept : s->selections) {
                kept.name = in_.text();
                kept.ids = ids();
                kept.unknownKeys = in_.text();
            }
        }
        return s;
    }

    model::Change change() {
        switch (in_.byte()) {
            case 0: return existence();
            case 1: {
                model::SetTransforms c;
                c.ids = ids();
                c.before = transforms(c.ids.size(), nullptr);
                c.after = transforms(c.ids.size(), &c.before);
                return c;
            }
            case 2: return labels();
            case 3: {
                model::SetFlags c;
                c.ids = ids();
                for (auto* column : {&c.before, &c.after})
                    for (std::size_t i = 0; i < c.ids.size(); ++i) column->push_back(in_.byte());
                return c;
            }
            case 4: {
                model::SetDetails c;
                c.ids = ids();
                for (auto* column : {&c.before, &c.after})
                    for (std::size_t i = 0; i < c.ids.size(); ++i) column->push_back(detail());
                return c;
            }
            case 5: return moves();
            case 6: {
                model::SetSettings c;
                c.before = settings();
                c.after = settings();
                return c;
            }
            case 7: {
                model::SetEntries c;
                c.keys.resize(in_.countOf(1));
                for (std::string& key : c.keys) key = in_.text();
                for (auto* column : {&c.before, &c.after})
                    for (std::size_t i = 0; i < c.keys.size(); ++i)
                        column->push_back(in_.byte() != 0 ? std::optional(map(0)) : std::nullopt);
                return c;
            }
            default: throw MalformedBytes("a change is of an unknown type");
        }
    }
    model::Change existence() {
        model::Existence c;
        c.created = in_.byte() != 0;
        const auto own = ids();
        const auto parents = ids(own.size());
        const auto before = ids(own.size());
        const auto locals = transforms(own.size(), nullptr);
        c.objects.resize(own.size());
        for (std::size_t i = 0; i < own.size(); ++i) {
            model::ObjectRecord& r = c.objects[i];
            r.id = own[i];
            r.parent = parents[i];
            r.before = before[i];
            r.local = locals[i];
            r.name = name();
            r.kind = name();
            r.item = name();
            r.flags = in_.byte();
            r.detail = detail();
        }
        return c;
    }
    model::Change labels() {
        model::SetLabels c;
        const std::uint8_t field = in_.byte();
        if (field > 2) throw MalformedBytes("a label field is unknown");
        c.field = static_cast<model::LabelField>(field);
        c.ids = ids();
        for (auto* column : {&c.before, &c.after})
            for (std::size_t i = 0; i < c.ids.size(); ++i) column->push_back(name());
        return c;
    }
    model::Change moves() {
        model::MoveInTree c;
        c.ids = ids();
        for (auto* places : {&c.before, &c.after}) {
            const auto parents = ids(c.ids.size());
            const auto before = ids(c.ids.size());
            for (std::size_t i = 0; i < parents.size(); ++i) places->push_back({parents[i], before[i]});
        }
        return c;
    }

    ByteReader in_;
    std::uint8_t version_ = kVersion;
    int depth_ = 0;
    std::vector<base::Name> names_;
};

}  // namespace

std::string encode(const StepData& data, const base::NameTable& names) {
    std::string plain = Encoder(names).finish(data);
    ByteWriter out;
    if (plain.size() < kCompressAbove) {
        out.byte(0);
        out.bytes += plain;
        return std::move(out.bytes);
    }
    out.byte(1);
    out.count(plain.size());
    const std::size_t at = out.bytes.size();
    out.bytes.resize(at + ZSTD_compressBound(plain.size()));
    const std::size_t n = ZSTD_compress(out.bytes.data() + at, out.bytes.size() - at, plain.data(), plain.size(), 1);
    out.bytes.resize(at + n);
    return std::move(out.bytes);
}

base::Result<StepData> decode(std::string_view bytes, base::NameTable& names) {
    try {
        ByteReader in(bytes);
        const bool compressed = in.byte() == 1;
        if (!compressed) return Decoder(bytes.substr(1), names).whole();
        const std::uint64_t size = in.count();
        if (size > kLargestPayload) throw MalformedBytes("it claims an absurd size");
        ByteWriter head;
        head.count(size);
        const std::string_view packed = bytes.substr(1 + head.bytes.size());
        if (ZSTD_getFrameContentSize(packed.data(), packed.size()) != size) throw MalformedBytes("its size is wrong");
        std::string plain(static_cast<std::size_t>(size), '\0');
        if (ZSTD_decompress(plain.data(), plain.size(), packed.data(), packed.size()) != plain.size())
            throw MalformedBytes("it does not unpack");
        return Decoder(plain, names).whole();
    } catch (const MalformedBytes& problem) {
        return base::fail(base::ErrorCode::BadInput, fmt::format("This step's record is damaged: {}.", problem.what()));
    }
}

}  // namespace edit
