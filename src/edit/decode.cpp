// A step's payload from bytes: codec.h, read.
#include <fmt/format.h>
#include <zstd.h>

#include <algorithm>
#include <bit>

#include "base/files.h"
#include "base/text.h"
#include "edit/byte_stream.h"
#include "edit/codec.h"
#include "edit/codec_parts.h"
#include "edit/old_facets.h"
#include "model/facets/array.h"
#include "model/facets/solid.h"

namespace edit {
namespace {

constexpr std::size_t kLargestPayload = std::size_t{1} << 30;

class Decoder {
  public:
    Decoder(std::string_view bytes, base::NameTable& names) : in_(bytes) {
        version_ = in_.byte();
        if (version_ < 1 || version_ > kPayloadVersion) throw MalformedBytes("it is of another version");
        const std::size_t n = in_.countOf(1);
        for (std::size_t i = 0; i < n; ++i) names_.push_back(names.intern(text()));
    }

    StepData whole() {
        StepData data;
        data.changes.resize(in_.countOf(2));
        for (model::ChangeSet& set : data.changes) {
            set.scene = text();
            if (!model::isDocument(set.scene)) throw MalformedBytes("it names what is no document");
            const std::size_t n = in_.countOf(1);
            for (std::size_t i = 0; i < n; ++i) set.changes.push_back(change());
        }
        data.selectionBefore = ids();
        data.selectionAfter = ids();
        if (!in_.done()) throw MalformedBytes("something follows its end");
        return data;
    }

  private:
    std::string_view text() {
        const std::string_view is = in_.text();
        if (!base::isValidUtf8(is)) throw MalformedBytes("a text is not UTF-8");
        return is;
    }
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
            case 3: return {std::string(text())};
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
            std::string key(text());
            result.emplace_back(std::move(key), value(depth));
        }
        return result;
    }
    model::DetailPtr detail() {
        const std::uint8_t parts = in_.byte();
        if (parts == 0) return nullptr;
        auto d = std::make_shared<model::Detail>();
        if (version_ < 9)
            readOldFacets({in_, version_, parts, [this] { return map(0); }, [this] { return this->link(); }}, *d);
        else
            facets(parts, *d);
        d->properties = map(0);
        d->unknownKeys = text();
        return d;
    }
    void facets(std::uint8_t parts, model::Detail& d) {
        for (std::size_t n = in_.countOf(1); n > 0; --n) {
            const model::FacetType& type = facetType();
            auto facet = type.make();
            fields(type.fields, facet.get(), 0);
            d.facets.put(type, std::move(facet));
        }
        if ((parts & 2) != 0) d.prefab.link = std::make_shared<const model::PrefabLink>(link());
    }
    const model::FacetType& facetType() {
        const std::string_view key = text();
        const model::FacetType* type = model::facetType(key);
        if (type == nullptr) throw MalformedBytes(fmt::format("the facet “{}” is of a newer version", key));
        return *type;
    }
    void fields(const model::Fields& fields, void* of, int depth) {
        if (depth > 100) throw MalformedBytes("a facet is nested too deeply");
        for (std::size_t n = in_.countOf(1); n > 0; --n) {
            const std::string_view key = text();
            const model::Member* member = fields.find(key);
            if (member == nullptr) throw MalformedBytes(fmt::format("the member “{}” is of a newer version", key));
            if (member->parts.fields != nullptr) {
                for (std::size_t k = in_.countOf(1); k > 0; --k)
                    this->fields(*member->parts.fields, member->parts.add(of), depth + 1);
            } else if (!member->set(of, value())) {
                throw MalformedBytes(fmt::format("the member “{}” says what it cannot", key));
            }
        }
        if (fields.unknown == nullptr) return;
        model::Unknown& unknown = fields.unknown(of);
        unknown.members = text();
        unknown.words = map(0);
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
    model::PartSet parts() {
        if (version_ < 9) return oldParts(in_.count());
        model::PartSet set(static_cast<std::uint32_t>(in_.count()) & model::part::kCommon);
        for (std::size_t n = in_.countOf(1); n > 0; --n) set.add(facetType());
        return set;
    }
    model::PrefabLink link() {
        if (++depth_ > 100) throw MalformedBytes("instances are nested too deeply");
        model::PrefabLink l;
        l.of = id();
        l.changed.resize(in_.countOf(8));
        for (model::Difference& d : l.changed) {
            d.parts = parts();
            d.value = record();
            d.goneProperties.resize(in_.countOf(1));
            for (std::string& key : d.goneProperties) key = text();
        }
        l.removed = ids();
        l.added.resize(in_.countOf(8));
        for (model::ObjectRecord& r : l.added) r = record();
        l.unknownKeys = text();
        --depth_;
        return l;
    }
    std::shared_ptr<const model::SceneSettings> settings() {
        auto s = std::make_shared<model::SceneSettings>();
        for (base::Vec3* v :
             {&s->sunDirection, &s->sunColour, &s->skyColour, &s->groundColour, &s->viewFrom, &s->viewTo})
            *v = vec();
        s->sunStrength = in_.real();
        if (version_ > 9) {
            s->hazeMetres = in_.real();
            s->notes = text();
        }
        if (version_ > 10) {
            s->guise = text();
            if (in_.byte() != 0) {
                const base::Vec3 low = vec(), high = vec();
                s->level = {low, high};
            }
        }
        s->unknownKeys = text();
        if (version_ > 1)
            for (std::string* keys : {&s->unknownSunKeys, &s->unknownViewKeys}) *keys = text();
        if (version_ > 4 && in_.byte() != 0) {
            auto& head = s->prefab.emplace();
            head.name = text();
            if (!base::isFileName(head.name)) throw MalformedBytes("a prefab has a name that cannot be");
            head.folder = text();
        }
        if (version_ > 2) {
            s->bookmarks.resize(in_.countOf(1));
            for (model::Bookmark& b : s->bookmarks) {
                b.name = text();
                b.from = vec();
                b.to = vec();
                b.heightMetres = in_.real();
                b.unknownKeys = text();
            }
            s->selections.resize(in_.countOf(1));
            for (model::SavedSelection& kept : s->selections) {
                kept.name = text();
                kept.ids = ids();
                kept.unknownKeys = text();
            }
        }
        if (version_ > 7) {
            s->rulesOff.resize(in_.countOf(1));
            for (model::RuleOff& off : s->rulesOff) {
                off.object = id();
                for (std::string* text : {&off.rule, &off.unknownKeys}) *text = this->text();
            }
            s->accepted.resize(in_.countOf(1));
            for (model::AcceptedFinding& a : s->accepted) {
                const auto both = ids(2);
                a.object = both[0];
                a.other = both[1];
                for (std::string* text : {&a.rule, &a.part, &a.message, &a.reason, &a.unknownKeys})
                    *text = this->text();
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
                for (std::string& key : c.keys) key = text();
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
    std::uint8_t version_ = kPayloadVersion;
    int depth_ = 0;
    std::vector<base::Name> names_;
};

}  // namespace

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
    } catch (const std::exception& problem) {
        return base::fail(base::ErrorCode::BadInput, fmt::format("This step's record is damaged: {}.", problem.what()));
    }
}

base::Result<std::string> unpackText(std::string_view packed) {
    const unsigned long long size = ZSTD_getFrameContentSize(packed.data(), packed.size());
    if (size > kLargestKeptText) return base::fail(base::ErrorCode::BadInput, "A kept file is damaged.");
    std::string text(static_cast<std::size_t>(size), '\0');
    if (ZSTD_decompress(text.data(), text.size(), packed.data(), packed.size()) != text.size())
        return base::fail(base::ErrorCode::BadInput, "A kept file is damaged.");
    return text;
}

}  // namespace edit
