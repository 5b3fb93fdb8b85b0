// What concerns the run itself, and what is drawn.
#include <fmt/format.h>

#include <cstdlib>

#include "base/text.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;

std::string shown(Context& c, const Datum& d) {
    auto number = [](double n) { return std::isfinite(n) ? base::shortest(n) : std::string("nan"); };
    auto vector = [&](const Vec3& v) { return fmt::format("({}, {}, {})", number(v.x), number(v.y), number(v.z)); };
    if (const auto* b = std::get_if<bool>(&d)) return *b ? "true" : "false";
    if (const auto* n = std::get_if<double>(&d)) return number(*n);
    if (const auto* t = std::get_if<std::string>(&d)) return *t;
    if (const auto* v = std::get_if<Vec3>(&d)) return vector(*v);
    if (const auto* q = std::get_if<base::Quat>(&d)) return "turn" + vector(base::toDegrees(*q));
    if (const auto* o = std::get_if<ObjectId>(&d)) {
        const model::Slot s = c.scene().find(*o);
        return s == model::kNoSlot ? base::toText(*o) : std::string(c.scene().nameText(s));
    }
    if (const auto* l = std::get_if<Objects>(&d)) return fmt::format("{} objects", l->size());
    if (const auto* l = std::get_if<std::vector<Vec3>>(&d)) return fmt::format("{} points", l->size());
    if (const auto* l = std::get_if<std::vector<std::string>>(&d)) return fmt::format("{} texts", l->size());
    return "nil";
}
Data say(Context& c, const Data& a) {
    constexpr std::size_t kMostLines = 10'000;
    if (c.said.size() >= kMostLines) trouble("10,000 lines were said; that is enough");
    constexpr std::size_t kMostBytes = std::size_t{4} << 20;
    std::string line;
    for (const Datum& d : a) line += (line.empty() ? "" : " ") + shown(c, d);
    c.saidBytes += line.size();
    if (c.saidBytes > kMostBytes) trouble("4 MB were said; that is enough");
    c.said.push_back({std::move(line), c.line});
    return {};
}
Data progress(Context& c, const Data& a) {
    Reader r(c, a);
    c.share = std::clamp(r.number(), 0.0, 1.0);
    c.doing = r.text("");
    return {};
}
Data random(Context& c, const Data& a) {
    Reader r(c, a);
    const double low = r.number(0), high = r.number(1);
    return {c.random.between(low, high)};
}
Data clock(Context& c, const Data&) {
    return {static_cast<double>(c.settings.nowMs) / 1000.0};
}
Data argument(Context& c, const Data& a) {
    const std::string name = Reader(c, a).text();
    c.argumentsAsked.insert(name);
    const auto place = c.settings.args.find(name);
    if (place == c.settings.args.end()) return {a.size() > 1 ? a[1] : Datum(Nothing{})};
    if (a.size() < 2 || !std::holds_alternative<double>(a[1])) return {place->second};
    char* end = nullptr;
    const double n = std::strtod(place->second.c_str(), &end);
    if (place->second.empty() || *end != '\0')
        trouble(fmt::format("“{}” is “{}”; a number was expected", place->first, place->second));
    return {n};
}
Data document(Context& c, const Data&) {
    return {c.scene().name()};
}

Data draw(Context& c, Mark mark, Reader& r) {
    constexpr std::size_t kMostMarks = 20'000;
    if (c.marks.size() + (c.found.empty() ? 0 : c.found.back().marks.size()) >= kMostMarks)
        trouble("20,000 marks were drawn; that is enough");
    if (r.more()) mark.colour = glm::clamp(r.vector(), Vec3(0.0), Vec3(1.0));
    (c.found.empty() ? c.marks : c.found.back().marks).push_back(std::move(mark));
    return {};
}
Data line(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Line, r.point(), {}, 0, {}, {}, {}};
    mark.b = r.point();
    return draw(c, mark, r);
}
Data arrow(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Arrow, r.point(), {}, 0, {}, {}, {}};
    mark.b = r.point();
    return draw(c, mark, r);
}
Data circle(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Circle, r.point(), Vec3(0, 1, 0), 0, {}, {}, {}};
    mark.radiusMetres = r.number();
    if (!(mark.radiusMetres >= 0 && mark.radiusMetres <= 1e6)) trouble("a radius is from 0 to 1,000 km");
    return draw(c, mark, r);
}
Data frame(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Box, r.point(), {}, 0, {}, {}, {}};
    mark.b = r.point();
    return draw(c, mark, r);
}
Data caption(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Label, r.point(), {}, 0, {}, {}, {}};
    mark.text = r.text();
    if (mark.text.size() > 400) trouble("a caption has at most 400 letters");
    return draw(c, mark, r);
}
Data dot(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Dot, r.point(), {}, 0, {}, {}, {}};
    return draw(c, mark, r);
}

// What the prelude calls.

void refuseLate(const Context& c) {
    if (c.acts()) trouble("commands, behaviours and checks are declared before anything is done");
}
Data declareCommand(Context& c, const Data& a) {
    refuseLate(c);
    Reader r(c, a);
    CommandSpec spec;
    spec.name = r.text();
    spec.menu = r.text("");
    spec.help = r.text("");
    spec.shortcut = r.text("");
    spec.asksEnabled = r.truth();
    spec.stays = r.truth();
    spec.marks = r.truth();
    if (spec.name.empty() || spec.name.size() > 80) trouble("a command's name has 1 to 80 letters");
    for (const CommandSpec& other : c.declared.commands)
        if (other.name == spec.name) trouble(fmt::format("there are two commands “{}” in this file", spec.name));
    if (c.declared.commands.size() >= 100) trouble("a file has at most 100 commands");
    c.declared.commands.push_back(std::move(spec));
    c.form = &c.declared.commands.back().form;
    return {};
}
std::optional<double> maybe(Reader& r) {
    return r.more() ? std::optional(r.number()) : (r.next(), std::nullopt);
}
Data declareField(Context& c, const Data& a) {
    using model::PropertyType;
    Reader r(c, a);
    model::Property field;
    field.name = r.text();
    const std::string type = r.text();
    field.label = r.text("");
    field.help = r.text("");
    field.unit = r.text("");
    field.low = maybe(r);
    field.high = maybe(r);
    field.step = maybe(r);
    field.shownIf = r.text("");
    const Datum usual = r.next();
    const Datum choices = r.next();
    const Datum kinds = r.next();
    const std::pair<const char*, PropertyType> types[] = {
        {"number", PropertyType::Number}, {"whole", PropertyType::Integer}, {"text", PropertyType::Text},
        {"switch", PropertyType::Bool},   {"choice", PropertyType::Choice}, {"colour", PropertyType::Colour},
        {"angle", PropertyType::Angle},   {"vector", PropertyType::Vector}, {"point", PropertyType::Vector},
        {"object", PropertyType::Object}, {"item", PropertyType::Item}};
    for (const auto& [word, is] : types)
        if (type == word) field.type = is;
    field.isPlace = type == "point";
    if (field.label.empty()) {
        field.label = field.name;
        for (char& ch : field.label)
            if (ch == '_') ch = ' ';
        if (!field.label.empty())
            field.label[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(field.label[0])));
    }
    if (const auto* words = std::get_if<std::vector<std::string>>(&choices))
        for (const std::string& word : *words) field.choices.push_back({word, word});
    if (field.type == PropertyType::Choice && field.choices.empty())
        trouble(fmt::format("the field “{}” has no choices", field.name));
    if (const auto* list = std::get_if<std::vector<std::string>>(&kinds)) field.kinds = *list;
    if (field.low && field.high && *field.low > *field.high)
        trouble(fmt::format("the field “{}” has its min above its max", field.name));
    model::Value value;
    bool given = true;
    if (const auto* b = std::get_if<bool>(&usual))
        value = {*b};
    else if (const auto* n = std::get_if<double>(&usual))
        value = {*n};
    else if (const auto* t = std::get_if<std::string>(&usual))
        value = {*t};
    else if (const auto* v = std::get_if<Vec3>(&usual))
        value = {model::ValueList{{v->x}, {v->y}, {v->z}}};
    else
        given = false;
    if (given) {
        auto fine = model::fitted(field, value);
        if (!fine) trouble(fmt::format("the field “{}”: {}", field.name, fine.error().message));
        field.fallback = *fine;
    }
    auto& form = *c.form;
    if (form.size() >= 60) trouble("a form has at most 60 fields");
    form.push_back(std::move(field));
    return {};
}
Data declareBehaviour(Context& c, const Data& a) {
    refuseLate(c);
    Reader r(c, a);
    BehaviourSpec spec;
    spec.kind = r.text();
    spec.allows = r.truth();
    spec.changes = r.truth();
    spec.opens = r.truth();
    spec.looks = r.truth();
    const Datum touches = r.next();
    if (const auto* list = std::get_if<std::vector<std::string>>(&touches)) spec.touches = *list;
    for (const BehaviourSpec& other : c.declared.behaviours)
        if (other.kind == spec.kind) trouble(fmt::format("there are two behaviours of “{}” in this file", spec.kind));
    c.declared.behaviours.push_back(std::move(spec));
    return {};
}
Data declareCheck(Context& c, const Data& a) {
    refuseLate(c);
    Reader r(c, a);
    CheckSpec spec;
    spec.id = r.text();
    spec.label = r.text(spec.id);
    spec.why = r.text("");
    spec.severity = r.text("caution");
    const std::string looks = r.text("object");
    const bool hasReach = r.more();
    spec.reachMetres = r.number(2);
    spec.fixLabel = r.text("");
    const Datum kinds = r.next();
    if (spec.id.empty() || spec.id.size() > 60 ||
        spec.id.find_first_not_of("abcdefghijklmnopqrstuvwxyz0123456789-") != std::string::npos)
        trouble(fmt::format("“{}”: a check's id has small letters, digits and dashes, at most 60", spec.id));
    for (const CheckSpec& other : c.declared.checks)
        if (other.id == spec.id) trouble(fmt::format("there are two checks “{}” in this file", spec.id));
    if (!check::severityFrom(spec.severity))
        trouble(fmt::format("the check “{}”: its severity is hint, caution or error", spec.id));
    using Looks = CheckSpec::Looks;
    if (looks != "object" && looks != "around" && looks != "scene")
        trouble(fmt::format("the check “{}” looks at: object, around or scene", spec.id));
    spec.looks = looks == "object" ? Looks::Object : looks == "around" ? Looks::Around : Looks::Scene;
    if (hasReach && spec.looks != Looks::Around) trouble("only a check that looks around has a reach");
    if (!(spec.reachMetres > 0 && spec.reachMetres <= 1000)) trouble("a reach is up to 1,000 m");
    if (const auto* list = std::get_if<std::vector<std::string>>(&kinds)) spec.kinds = *list;
    if (spec.looks == Looks::Scene && !spec.kinds.empty()) trouble("a check of the scene as a whole has no kinds");
    if (c.declared.checks.size() >= 100) trouble("a file has at most 100 checks");
    c.declared.checks.push_back(std::move(spec));
    c.form = &c.declared.checks.back().parameters;
    return {};
}
Data found(Context& c, const Data& a) {
    Reader r(c, a);
    Found one;
    one.message = r.text();
    one.object = r.more() ? r.object() : (r.next(), ObjectId{});
    one.other = r.more() ? r.object() : (r.next(), ObjectId{});
    one.part = r.text("");
    if (one.message.empty() || one.message.size() > 500) trouble("a finding is said in 1 to 500 letters");
    if (c.found.size() >= 1000) trouble("1,000 findings at one object; that is enough");
    c.found.push_back(std::move(one));
    return {};
}
Data handle(Context& c, const Data& a) {
    Reader r(c, a);
    Mark mark{Mark::Shape::Handle, r.point(), {}, 0, {}, {}, {}};
    mark.text = r.text("");
    mark.object = c.atHand;
    if (++c.handles > 200) trouble("200 handles were drawn; that is enough");
    return draw(c, mark, r);
}
Data look(Context& c, const Data& a) {
    Reader r(c, a);
    c.look.item = r.text("");
    if (r.more())
        c.look.tint = glm::clamp(r.vector(), Vec3(0.0), Vec3(1.0));
    else
        r.next();
    c.look.hides = r.truth(false);
    c.look.badge = r.text("");
    return {};
}
Data turnFrom(Context& c, const Data& a) {
    return {base::fromDegrees(Reader(c, a).vector())};
}
Data turnAbout(Context& c, const Data& a) {
    Reader r(c, a);
    const Vec3 axis = r.vector();
    if (!(glm::length(axis) > 1e-12)) trouble("an axis has a direction");
    return {glm::angleAxis(base::radians(r.number()), glm::normalize(axis))};
}
const base::Quat& turnIn(const Data& a) {
    const auto* turn = a.empty() ? nullptr : std::get_if<base::Quat>(&a[0]);
    if (turn == nullptr) trouble("a turn was expected");
    return *turn;
}
Data toDegrees(Context&, const Data& a) {
    return {base::toDegrees(turnIn(a))};
}

}  // namespace

Bindings runBindings() {
    return {
        {{"say", "values...", "Shows a line of values when the run ends."}, Needs::Nothing, false, say},
        {{"progress", "share [, what]", "Shows how far it has come, 0 to 1, while it takes long."},
         Needs::Nothing,
         false,
         progress},
        {{"random", "[low, high]", "A number from low to high, 0 to 1 by itself; the same in every run of one seed."},
         Needs::Nothing,
         false,
         random},
        {{"clock", "", "Seconds since 1970, as passed in when the run began."}, Needs::Nothing, false, clock},
        {{"argument", "name [, usual]", "An argument of the run as text, as a number when the usual one is a number."},
         Needs::Nothing,
         false,
         argument},
        {{"sceneName", "", "The name of the scene that it runs over."}, Needs::Scene, false, document},
    };
}

Bindings markBindings() {
    return {
        {{"line", "from, to [, colour]", "Draws a line over the view."}, Needs::Nothing, false, line},
        {{"arrow", "from, to [, colour]", "Draws an arrow."}, Needs::Nothing, false, arrow},
        {{"circle", "centre, radius [, colour]", "Draws a level circle."}, Needs::Nothing, false, circle},
        {{"frame", "low, high [, colour]", "Draws the edges of a box between two corners."},
         Needs::Nothing,
         false,
         frame},
        {{"caption", "point, text [, colour]", "Writes a few words at a point."}, Needs::Nothing, false, caption},
        {{"dot", "point [, colour]", "Draws a point."}, Needs::Nothing, false, dot},
    };
}

const Bindings& primitives() {
    static const Bindings all = {{{"command", "", ""}, Needs::Nothing, false, declareCommand},
                                 {{"field", "", ""}, Needs::Nothing, false, declareField},
                                 {{"behaviour", "", ""}, Needs::Nothing, false, declareBehaviour},
                                 {{"check", "", ""}, Needs::Nothing, false, declareCheck},
                                 {{"found", "", ""}, Needs::Scene, false, found},
                                 {{"handle", "", ""}, Needs::Nothing, false, handle},
                                 {{"look", "", ""}, Needs::Nothing, false, look},
                                 {{"turnFrom", "", ""}, Needs::Nothing, false, turnFrom},
                                 {{"turnAbout", "", ""}, Needs::Nothing, false, turnAbout},
                                 {{"toDegrees", "", ""}, Needs::Nothing, false, toDegrees},
                                 tablePrimitive()};
    return all;
}

}  // namespace script
