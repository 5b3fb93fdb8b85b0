// A step's payload as bytes: codec.h, written.
#include <zstd.h>

#include <bit>
#include <unordered_map>

#include "edit/byte_stream.h"
#include "edit/codec.h"
#include "edit/codec_parts.h"
#include "model/facets/array.h"
#include "model/prefab.h"

namespace edit {
namespace {

constexpr std::size_t kCompressAbove = 400;

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
        whole.byte(kPayloadVersion);
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
        out_.byte(static_cast<std::uint8_t>(1 | (d->prefab ? 2 : 0)));
        out_.count(d->facets.size());
        for (const model::FacetType* type : model::facetTypes()) {
            const void* facet = d->facets.find(*type);
            if (facet == nullptr) continue;
            out_.text(type->key);
            fields(type->fields, facet);
        }
        if (d->prefab) link(*d->prefab);
        map(d->properties);
        out_.text(d->unknownKeys);
    }
    /// Each member that has a value, then what is unknown.
    void fields(const model::Fields& fields, const void* of) {
        std::vector<std::pair<const model::Member*, std::optional<model::Value>>> said;
        for (const model::Member& m : fields.members) {
            if (!m.stored) continue;
            auto& [member, value] = said.emplace_back(&m, std::nullopt);
            if (m.parts.fields == nullptr && !(value = m.get(of))) said.pop_back();
        }
        out_.count(said.size());
        for (const auto& [member, has] : said) {
            out_.text(member->property.name);
            if (has) {
                value(*has);
                continue;
            }
            out_.count(member->parts.size(of));
            for (std::size_t i = 0; i < member->parts.size(of); ++i)
                this->fields(*member->parts.fields, member->parts.at(of, i));
        }
        if (const model::Unknown* unknown = fields.unknownOf(of)) {
            out_.text(unknown->members);
            map(unknown->words);
        }
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
            out_.count(d.parts.common());
            out_.count(d.parts.facets().size());
            for (const model::FacetType* type : model::facetTypes())
                if (d.parts.has(*type)) out_.text(type->key);
            record(d.value);
            out_.count(d.goneProperties.size());
            for (const std::string& key : d.goneProperties) out_.text(key);
        }
        ids(l.removed);
        out_.count(l.added.size());
        for (const model::ObjectRecord& r : l.added) record(r);
        out_.text(l.unknownKeys);
    }
    void settings(const model::SceneSettings& s) {
        for (const base::Vec3& v : {s.sunDirection, s.sunColour, s.skyColour, s.groundColour, s.viewFrom, s.viewTo})
            vec(v);
        out_.real(s.sunStrength);
        out_.real(s.hazeMetres);
        out_.text(s.notes);
        out_.text(s.guise);
        out_.byte(s.level ? 1 : 0);
        if (s.level)
            for (const base::Vec3& v : {s.level->low, s.level->high}) vec(v);
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
        out_.count(s.rulesOff.size());
        for (const model::RuleOff& off : s.rulesOff) {
            ids({off.object});
            for (const std::string* text : {&off.rule, &off.unknownKeys}) out_.text(*text);
        }
        out_.count(s.accepted.size());
        for (const model::AcceptedFinding& a : s.accepted) {
            ids({a.object, a.other});
            for (const std::string* text : {&a.rule, &a.part, &a.message, &a.reason, &a.unknownKeys}) out_.text(*text);
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

std::string packText(std::string_view text) {
    if (text.size() > kLargestKeptText) return {};
    std::string packed(ZSTD_compressBound(text.size()), '\0');
    const std::size_t size = ZSTD_compress(packed.data(), packed.size(), text.data(), text.size(), 1);
    if (ZSTD_isError(size) != 0) return {};
    packed.resize(size);
    return packed;
}

}  // namespace edit
