#pragma once
// Reading the members of one parsed JSON object of a scene or prefab file, noting what is not as expected. For the
// sources of object_line.h, which alone know the parser.
#include <simdjson.h>

#include "base/names.h"
#include "io/damage.h"
#include "model/prefab.h"

namespace io {

namespace dom = simdjson::dom;

constexpr double kFarthestMetres = 1e7;

/// What a JSON type is called in messages.
std::string_view typeName(dom::element_type type);
model::Value toValue(dom::element e);
/// Keeps a member that this version does not know.
void appendUnknown(std::string& out, std::string_view key, dom::element value);
bool usablePosition(const base::Vec3& p);
bool usableScale(const base::Vec3& s);
bool isUnit(const base::Quat& q);

class Members {
  public:
    Members(std::vector<Damage>& damage, const std::string& file, int line, base::NameTable& names)
        : damage_(damage), file_(file), line_(line), names_(names) {}

    void note(std::string_view key, std::string message);
    void wrongType(std::string_view key, dom::element e, std::string_view wanted);
    bool text(std::string_view key, dom::element e, std::string& out);
    void flag(std::string_view key, dom::element e, std::uint8_t bit, std::uint8_t& flags);
    void number(std::string_view key, dom::element e, double low, double high, double& out);
    /// `n` numbers into a vector; false, and noted, when they are none.
    template <class V>
    bool vector(std::string_view key, dom::element e, V& out, int n) {
        double values[4] = {};
        if (!numbers(key, e, values, n)) return false;
        for (int i = 0; i < n; ++i) out[i] = values[i];
        return true;
    }
    bool numbers(std::string_view key, dom::element e, double* out, int n);
    void id(std::string_view key, dom::element e, base::ObjectId& out);
    void pose(std::string_view key, dom::element e, base::Transform& out);

    void flags(std::string_view key, dom::element e, std::uint8_t& out);
    bool oneFlag(std::string_view key, dom::element e, std::uint8_t& out);
    void name(std::string_view key, dom::element e, base::Name& out);
    bool facet(std::string_view key, dom::element e, model::Detail& out);
    /// All of an object, as a line or as one that an instance adds.
    void object(dom::object members, model::ObjectRecord& out);
    void prefab(dom::element e, model::PrefabFacet& out);

  private:
    template <class F>
    void eachObject(std::string_view key, dom::element e, const F& take) {
        dom::array list;
        if (e.get(list) != simdjson::SUCCESS) return wrongType(key, e, "a list");
        for (dom::element one : list) {
            dom::object object;
            if (one.get(object) == simdjson::SUCCESS)
                take(object);
            else
                wrongType(key, one, "an object");
        }
    }
    // Each is false, and noted, when what is there cannot be read at all.
    bool fields(const std::string& path, dom::element e, const model::Fields& fields, std::size_t from, void* of);
    bool member(const std::string& path, dom::element e, const model::Member& m, const model::Fields& fields, void* of);
    bool parts(const std::string& path, dom::element e, const model::Member& m, void* of);
    void difference(dom::object members, model::PrefabLink& link);
    void properties(dom::element e, model::Detail& detail, model::Difference& d);

    std::vector<Damage>& damage_;
    const std::string& file_;
    int line_;
    base::NameTable& names_;
};

}  // namespace io
