#pragma once
// Arguments read one after the other; what does not fit is said with its number.
#include <cmath>

#include "ops/records.h"
#include "script/bindings.h"

namespace script {

class Reader {
  public:
    Reader(Context& context, const Data& data) : c_(context), a_(data), i_(context.method ? 1 : 0) {}

    /// Is there one more, that is not nil?
    bool more() const { return i_ < a_.size() && !std::holds_alternative<Nothing>(a_[i_]); }
    const Datum& next() {
        static const Datum nothing;
        return i_ < a_.size() ? a_[i_++] : (++i_, nothing);
    }
    double number() {
        const double* n = std::get_if<double>(&next());
        if (n == nullptr || !std::isfinite(*n)) wrong("a finite number");
        return *n;
    }
    double number(double usual) { return more() ? number() : (next(), usual); }
    std::string text() {
        const std::string* t = std::get_if<std::string>(&next());
        if (t == nullptr) wrong("a text");
        return *t;
    }
    std::string text(const std::string& usual) { return more() ? text() : (next(), usual); }
    bool truth() {
        const bool* b = std::get_if<bool>(&next());
        if (b == nullptr) wrong("true or false");
        return *b;
    }
    bool truth(bool usual) { return more() ? truth() : (next(), usual); }
    /// A vector, or three numbers.
    base::Vec3 vector() {
        if (more() && std::holds_alternative<double>(a_[i_])) {
            const double x = number(), y = number();
            return {x, y, number()};
        }
        const base::Vec3* v = std::get_if<base::Vec3>(&next());
        if (v == nullptr || !base::isFinite(*v)) wrong("a vector, or three numbers,");
        return *v;
    }
    /// The same as a place in the world.
    base::Vec3 point() {
        const base::Vec3 p = vector();
        if (glm::length(p) > 1e7) trouble("that is beyond 10,000 km");
        return p;
    }
    std::vector<base::Vec3> points() {
        const auto* list = std::get_if<std::vector<base::Vec3>>(&next());
        if (list == nullptr) {
            const auto* none = a_.empty() ? nullptr : std::get_if<Objects>(&a_[std::min(i_, a_.size()) - 1]);
            if (none != nullptr && none->empty()) return {};  // so does an empty list of objects look
            wrong("a list of vectors");
        }
        return *list;
    }
    base::ObjectId object() {
        const base::ObjectId* id = std::get_if<base::ObjectId>(&next());
        if (id == nullptr) wrong("an object");
        if (c_.scene().find(*id) == model::kNoSlot) trouble("this object is gone");
        c_.noteLook(*id);
        return *id;
    }
    /// One, or a list of them.
    Objects objects() {
        if (i_ < a_.size())
            if (const auto* list = std::get_if<Objects>(&a_[i_])) {
                ++i_;
                for (base::ObjectId id : *list)
                    if (c_.scene().find(id) == model::kNoSlot)
                        trouble("an object of the list is gone");
                    else
                        c_.noteLook(id);
                return *list;
            }
        return {object()};
    }
    /// One of some words.
    template <class T>
    T word(std::initializer_list<std::pair<const char*, T>> words) {
        const std::string given = text();
        std::string all;
        for (const auto& [name, value] : words) {
            if (given == name) return value;
            all += (all.empty() ? "" : ", ") + std::string(name);
        }
        trouble("“" + given + "” is none of: " + all);
    }
    [[noreturn]] void wrong(const char* what) const {
        trouble("argument " + std::to_string(c_.method ? i_ - 1 : i_) + ": " + what + " was expected");
    }

  private:
    Context& c_;
    const Data& a_;
    std::size_t i_;
};

/// The record that the first argument is; nulls: it is none.
inline ops::FoundRecord recordOf(Context& c, const Data& a) {
    const auto* id = a.empty() ? nullptr : std::get_if<base::ObjectId>(&a[0]);
    if (id == nullptr || c.scene().find(*id) != model::kNoSlot) return {};
    return ops::findRecord(c.library(), *id);
}

/// The object a method is of; what it touches last is what messages name.
inline model::Slot self(Context& c, const Data& a) {
    const base::ObjectId* id = a.empty() ? nullptr : std::get_if<base::ObjectId>(&a[0]);
    if (id == nullptr) trouble("an object was expected before the colon");
    const model::Slot slot = c.scene().find(*id);
    if (slot == model::kNoSlot) trouble("this object is gone");
    c.atHand = *id;
    c.noteLook(*id);
    return slot;
}

}  // namespace script
