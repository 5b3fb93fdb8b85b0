#include "hand/read.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <algorithm>
#include <charconv>
#include <set>
#include <sstream>

#include "base/text.h"
#include "hand/entries.h"
#include "hand/names.h"
#include "hand/write.h"
#include "io/csv.h"
#include "io/json_text.h"

namespace hand {
namespace {

using io::Json;
using Form = Recipe::Form;

std::size_t lineAt(std::string_view text, std::size_t at) {
    return 1 + static_cast<std::size_t>(std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
}

bool isNumber(std::string_view text) {
    double number = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), number);
    return read.ec == std::errc{} && read.ptr == text.data() + text.size();
}

class Reader {
  public:
    Reader(const Recipe& recipe, const std::string& file) : recipe_(recipe), file_(file) {}
    ReadList list;

    Status run(std::string_view text) {
        switch (recipe_.form) {
            case Form::Json:
            case Form::JsonTree: return json(text);
            case Form::JsonLines: return jsonLines(text);
            case Form::Csv: return csv(text);
            case Form::Xml: return xml(text);
            case Form::Text: return plain(text);
        }
        return {};
    }

  private:
    ReadEntry& add(std::ptrdiff_t below = -1) {
        ReadEntry& entry = list.entries.emplace_back();
        entry.row = ++rows_;
        entry.below = below;
        entry.values.resize(recipe_.fields.size());
        return entry;
    }
    void problem(std::size_t row, std::string message) { list.problems.push_back({row, "", std::move(message)}); }
    void other(const std::string& name) {
        if (known_.insert(name).second) list.others.push_back(name);
    }

    // JSON.
    /// The list in what stands round it, at the same way as the "*" in the recipe. Null: it is not there.
    static const Json* within(const Json& all, const Json& inside) {
        if (inside.is_string() && inside == "*") return &all;
        if (inside.is_object() && all.is_object())
            for (const auto& [key, value] : inside.items())
                if (const auto held = all.find(key); held != all.end())
                    if (const Json* found = within(*held, value)) return found;
        if (inside.is_array() && all.is_array())
            for (std::size_t i = 0; i < inside.size() && i < all.size(); ++i)
                if (const Json* found = within(all[i], inside[i])) return found;
        return nullptr;
    }
    Status json(std::string_view text) {
        auto all = io::parseJson(text, file_);
        if (!all) return tl::unexpected(all.error());
        const bool bare = std::holds_alternative<bool>(recipe_.inside.data);
        const Json* found = bare ? &*all : within(*all, io::toJson(recipe_.inside));
        if (found == nullptr || !found->is_array())
            return fail(ErrorCode::BadInput, fmt::format("{}: the list is not where the recipe says it is.", file_));
        entries(*found, -1);
        return {};
    }
    void entries(const Json& all, std::ptrdiff_t below) {
        for (const Json& one : all) {
            const auto at = static_cast<std::ptrdiff_t>(list.entries.size());
            ReadEntry& entry = add(below);
            if (!one.is_object()) {
                problem(entry.row, "Is no object.");
                list.entries.pop_back();
                continue;
            }
            take(one, entry);
            if (recipe_.form != Form::JsonTree) continue;
            if (const auto children = one.find(recipe_.children); children != one.end() && children->is_array())
                entries(*children, at);
        }
    }
    void take(const Json& one, ReadEntry& entry) {
        std::size_t found = 0;
        for (std::size_t i = 0; i < recipe_.fields.size(); ++i)
            if (const Json* value = at(one, recipe_.fields[i].name); value != nullptr && !value->is_null()) {
                entry.values[i] = valueOf(*value);
                ++found;
            }
        if (found >= one.size()) return;
        for (const auto& [key, value] : one.items()) {
            const auto isIts = [&, k = key](const Field& field) {
                return field.name == k || field.name.starts_with(k + ".");
            };
            if (key != recipe_.children && std::none_of(recipe_.fields.begin(), recipe_.fields.end(), isIts))
                other(key);
        }
    }
    static const Json* at(const Json& of, std::string_view path) {
        if (!of.is_object()) return nullptr;
        if (const auto whole = of.find(path); whole != of.end()) return &*whole;
        const std::size_t dot = path.find('.');
        if (dot == std::string_view::npos) return nullptr;
        const auto inner = of.find(path.substr(0, dot));
        return inner == of.end() ? nullptr : at(*inner, path.substr(dot + 1));
    }
    static Value valueOf(const Json& json) {
        if (json.is_string()) return {json.get<std::string>()};
        if (json.is_boolean()) return {json.get<bool>()};
        if (json.is_number_integer()) return {json.get<std::int64_t>()};
        if (json.is_number()) return {json.get<double>()};
        if (json.is_object()) return {io::toValues(json)};
        ValueList list;
        for (const Json& one : json) list.push_back(valueOf(one));
        return {std::move(list)};
    }
    Status jsonLines(std::string_view text) {
        std::size_t line = 0;
        for (std::size_t from = 0; from < text.size();) {
            const std::size_t to = std::min(text.find('\n', from), text.size());
            const std::string_view one = base::trimmed(text.substr(from, to - from));
            from = to + 1;
            ++line;
            if (one.empty()) continue;
            auto json = io::parseJson(one, fmt::format("{}:{}", file_, line));
            ReadEntry& entry = add();
            if (json && json->is_object()) {
                take(*json, entry);
                continue;
            }
            problem(entry.row, json ? "Is no object." : json.error().message);
            list.entries.pop_back();
        }
        return {};
    }

    // CSV.
    Status csv(std::string_view text) {
        auto rows = io::parseCells(text, recipe_.separator.front());
        if (!rows) return fail(ErrorCode::BadInput, file_ + ": " + rows.error().message);
        std::vector<std::ptrdiff_t> fields;  // by column
        for (std::size_t i = 0; !recipe_.headLine && i < recipe_.fields.size(); ++i)
            fields.push_back(static_cast<std::ptrdiff_t>(i));
        for (std::size_t r = 0; r < rows->size(); ++r) {
            if (r == 0 && recipe_.headLine) {
                if (Status head = headOf(rows->front(), fields); !head) return head;
                continue;
            }
            ReadEntry& entry = add();
            io::CsvRow& row = (*rows)[r];
            if (row.size() != fields.size())
                problem(entry.row, fmt::format("Has {} cells; {} were expected.", row.size(), fields.size()));
            for (std::size_t c = 0; c < row.size() && c < fields.size(); ++c)
                if (fields[c] >= 0 && !row[c].empty())
                    entry.values[static_cast<std::size_t>(fields[c])] = Value{std::move(row[c])};
        }
        return {};
    }
    Status headOf(const io::CsvRow& head, std::vector<std::ptrdiff_t>& fields) {
        std::size_t known = 0;
        for (const std::string& name : head) {
            const auto field = std::ranges::find(recipe_.fields, name, &Field::name);
            fields.push_back(field == recipe_.fields.end() ? -1 : field - recipe_.fields.begin());
            if (fields.back() < 0)
                other(name);
            else
                ++known;
        }
        if (known > 0) return {};
        return fail(ErrorCode::BadInput, fmt::format("{}: its head line has none of the recipe’s fields.", file_));
    }

    // XML.
    Status xml(std::string_view text) {
        pugi::xml_document document;
        const pugi::xml_parse_result parsed =
            document.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_utf8);
        if (!parsed)
            return fail(
                ErrorCode::BadInput,
                fmt::format("{}:{}: {}.", file_,
                            lineAt(text, std::min(static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, parsed.offset)),
                                                  text.size())),
                            parsed.description()));
        const pugi::xml_node root = document.document_element();
        for (const pugi::xml_node node : root.children(recipe_.entry.c_str())) {
            ReadEntry& entry = add();
            for (std::size_t i = 0; i < recipe_.fields.size(); ++i)
                if (auto value = xmlAt(node, recipe_.fields[i].name)) entry.values[i] = Value{std::move(*value)};
            for (const pugi::xml_attribute attribute : node.attributes()) otherXml("@" + std::string(attribute.name()));
            for (const pugi::xml_node child : node.children())
                if (child.type() == pugi::node_element) otherXml(child.name());
        }
        if (list.entries.empty() && root.first_child().type() == pugi::node_element)
            return fail(ErrorCode::BadInput, fmt::format("{}: has no “{}”; it holds “{}”.", file_, recipe_.entry,
                                                         root.first_child().name()));
        return {};
    }
    void otherXml(const std::string& name) {
        const auto isIts = [&](const Field& field) { return field.name == name || field.name.starts_with(name + "."); };
        if (std::none_of(recipe_.fields.begin(), recipe_.fields.end(), isIts)) other(name);
    }
    static std::optional<std::string> xmlAt(pugi::xml_node node, const std::string& path) {
        const std::size_t dot = path.find('.');
        if (dot != std::string::npos) {
            const pugi::xml_node inner = node.child(path.substr(0, dot).c_str());
            return inner ? xmlAt(inner, path.substr(dot + 1)) : std::nullopt;
        }
        if (path.starts_with("@")) {
            const pugi::xml_attribute attribute = node.attribute(path.c_str() + 1);
            return attribute ? std::optional<std::string>(attribute.value()) : std::nullopt;
        }
        const pugi::xml_node child = node.child(path.c_str());
        return child ? std::optional<std::string>(child.text().get()) : std::nullopt;
    }

    // Text.
    Status plain(std::string_view text) {
        auto parts = partsOf(recipe_.each, recipe_);
        if (!parts) return tl::unexpected(parts.error());
        parts_ = std::move(*parts);
        for (const TemplatePart& part : parts_)
            numeric_.push_back(part.field >= 0 && isNumeric(recipe_.fields[static_cast<std::size_t>(part.field)]));
        std::string whole(text);
        if (recipe_.crlf) std::erase(whole, '\r');
        std::string_view rest = whole;
        if (!skipFixed(rest, recipe_.head))
            return fail(ErrorCode::BadInput, fmt::format("{}: does not begin as the recipe says it does.", file_));
        while (!rest.empty() && !isFoot(rest)) {
            if (!list.entries.empty() && !recipe_.between.empty() && rest.starts_with(recipe_.between))
                rest.remove_prefix(recipe_.between.size());
            captured_.assign(parts_.size(), {});
            hopeless_.clear();
            std::size_t end = 0;
            ReadEntry& entry = add();
            if (match(rest, 0, 0, end) && end > 0) {
                for (std::size_t p = 0; p < parts_.size(); ++p)
                    if (parts_[p].field >= 0 && !captured_[p].empty())
                        entry.values[static_cast<std::size_t>(parts_[p].field)] = Value{std::string(captured_[p])};
                rest.remove_prefix(end);
                continue;
            }
            const auto at = static_cast<std::size_t>(rest.data() - whole.data());
            line_ += static_cast<std::size_t>(std::count(whole.begin() + static_cast<std::ptrdiff_t>(counted_),
                                                         whole.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
            counted_ = at;
            problem(entry.row, fmt::format("Line {} is not as the recipe has an entry.", line_));
            entry.values.assign(recipe_.fields.size(), std::nullopt);
            list.entries.pop_back();
            const std::size_t line = rest.find('\n');
            rest.remove_prefix(line == std::string_view::npos ? rest.size() : line + 1);
        }
        return {};
    }
    static bool isNumeric(const Field& field) {
        const Is is = sourceOf(field);
        return !field.asText && field.names.empty() &&
               ((is >= Is::X && is <= Is::Z) || (is >= Is::TurnX && is <= Is::TurnZ) ||
                (is >= Is::SizeX && is <= Is::SizeZ));
    }
    /// What stands before the first of a template's words; the words themselves are as they may be, up to a line's end.
    static bool skipFixed(std::string_view& text, const std::string& shape) {
        std::size_t at = 0, from = 0;
        while (from < shape.size()) {
            const std::size_t open = std::min(shape.find('{', from), shape.size());
            const std::string_view fixed = std::string_view(shape).substr(from, open - from);
            const std::size_t found =
                from == 0 ? (text.starts_with(fixed) ? 0 : std::string_view::npos) : text.find(fixed, at);
            if (found == std::string_view::npos) return false;
            at = found + fixed.size();
            const std::size_t close = shape.find('}', open);
            from = close == std::string::npos ? shape.size() : close + 1;
        }
        text.remove_prefix(at);
        return true;
    }
    bool isFoot(std::string_view rest) const {
        if (recipe_.foot.empty()) return base::trimmed(rest).empty();
        std::string_view after = rest;
        return skipFixed(after, recipe_.foot) && base::trimmed(after).empty();
    }
    /// Fields take as little as they can so that all the rest fits.
    bool match(std::string_view text, std::size_t part, std::size_t at, std::size_t& end) {
        if (hopeless_.contains({part, at})) return false;
        if (fits(text, part, at, end)) return true;
        hopeless_.insert({part, at});
        return false;
    }
    bool fits(std::string_view text, std::size_t part, std::size_t at, std::size_t& end) {
        const TemplatePart& now = parts_[part];
        if (text.substr(at, now.text.size()) != now.text) return false;
        at += now.text.size();
        if (now.field < 0) {
            end = at;
            return at == text.size() || !recipe_.between.empty()
                       ? text.substr(at).starts_with(recipe_.between) || ends(text.substr(at))
                       : true;
        }
        constexpr std::size_t kLongest = 4000;
        for (std::size_t to = at; to <= std::min(text.size(), at + kLongest); ++to) {
            const std::string_view taken = text.substr(at, to - at);
            if ((!numeric_[part] || taken.empty() || isNumber(taken)) && match(text, part + 1, to, end)) {
                captured_[part] = taken;
                return true;
            }
            if (to < text.size() && text[to] == '\n') break;
        }
        return false;
    }
    bool ends(std::string_view rest) const { return base::trimmed(rest).empty() || isFoot(rest); }

    const Recipe& recipe_;
    const std::string& file_;
    std::set<std::string> known_;
    std::size_t rows_ = 0;  // also those that are no entries
    std::vector<TemplatePart> parts_;
    std::vector<bool> numeric_;
    std::vector<std::string_view> captured_;
    std::set<std::pair<std::size_t, std::size_t>> hopeless_;  // parts at places from which the rest does not fit
    std::size_t line_ = 1, counted_ = 0;                      // of the text so far
};

std::string lettersOf(std::string_view name) {
    std::string letters;
    for (const char c : base::lowered(name))
        if (std::isalnum(static_cast<unsigned char>(c)) != 0) letters += c;
    return letters;
}

/// What a column seems to be by its name.
std::string seems(std::string_view name) {
    static const std::map<std::string, std::string, std::less<>> known = {{"id", "id"},
                                                                          {"guid", "id"},
                                                                          {"uuid", "id"},
                                                                          {"name", "name"},
                                                                          {"label", "name"},
                                                                          {"kind", "kind"},
                                                                          {"item", "item"},
                                                                          {"type", "item"},
                                                                          {"model", "item"},
                                                                          {"mesh", "item"},
                                                                          {"asset", "item"},
                                                                          {"x", "x"},
                                                                          {"y", "y"},
                                                                          {"z", "z"},
                                                                          {"posx", "x"},
                                                                          {"posy", "y"},
                                                                          {"posz", "z"},
                                                                          {"positionx", "x"},
                                                                          {"positiony", "y"},
                                                                          {"positionz", "z"},
                                                                          {"placex", "x"},
                                                                          {"placey", "y"},
                                                                          {"placez", "z"},
                                                                          {"position", "position"},
                                                                          {"pos", "position"},
                                                                          {"place", "position"},
                                                                          {"location", "position"},
                                                                          {"turnx", "turnX"},
                                                                          {"turny", "turnY"},
                                                                          {"turnz", "turnZ"},
                                                                          {"rotx", "turnX"},
                                                                          {"roty", "turnY"},
                                                                          {"rotz", "turnZ"},
                                                                          {"rotationx", "turnX"},
                                                                          {"rotationy", "turnY"},
                                                                          {"rotationz", "turnZ"},
                                                                          {"pitch", "turnX"},
                                                                          {"heading", "turnY"},
                                                                          {"yaw", "turnY"},
                                                                          {"roll", "turnZ"},
                                                                          {"turn", "turn"},
                                                                          {"angles", "turn"},
                                                                          {"rotation", "rotation"},
                                                                          {"quaternion", "rotation"},
                                                                          {"size", "size"},
                                                                          {"scale", "size"},
                                                                          {"sizex", "sizeX"},
                                                                          {"sizey", "sizeY"},
                                                                          {"sizez", "sizeZ"},
                                                                          {"scalex", "sizeX"},
                                                                          {"scaley", "sizeY"},
                                                                          {"scalez", "sizeZ"},
                                                                          {"parent", "parent"},
                                                                          {"prefab", "prefab"}};
    const auto found = known.find(lettersOf(name));
    return found == known.end() ? std::string() : found->second;
}

void columnsIn(const Json& one, const std::string& before, std::vector<std::string>& columns, int depth = 0) {
    for (const auto& [key, value] : one.items()) {
        const std::string name = before + key;
        if (value.is_object() && depth < 3 && seems(name).empty())
            columnsIn(value, name + ".", columns, depth + 1);
        else if (std::ranges::find(columns, name) == columns.end())
            columns.push_back(name);
    }
}

/// The first list of objects in a document, and what is round it.
const Json* firstList(const Json& all, Value& inside) {
    if (all.is_array()) {
        inside = Value{"*"};
        return &all;
    }
    if (!all.is_object()) return nullptr;
    for (const auto& [key, value] : all.items()) {
        Value deeper;
        if (const Json* found = firstList(value, deeper)) {
            inside = Value{ValueMap{{key, deeper}}};
            return found;
        }
    }
    return nullptr;
}

}  // namespace

Result<std::string> decoded(std::string_view bytes, Recipe::Encoding encoding, const std::string& file) {
    std::string text;
    const auto put = [&](std::uint32_t code) {
        if (code < 0x80) return text += static_cast<char>(code), void();
        const int more = code < 0x800 ? 1 : code < 0x10000 ? 2 : 3;
        text += static_cast<char>((more == 1 ? 0xC0 : more == 2 ? 0xE0 : 0xF0) | code >> 6 * more);
        for (int k = more - 1; k >= 0; --k) text += static_cast<char>(0x80 | (code >> 6 * k & 0x3F));
    };
    const bool little = bytes.starts_with("\xFF\xFE"), big = bytes.starts_with("\xFE\xFF");
    if (little || big || encoding == Recipe::Encoding::Utf16) {
        const auto unit = [&](std::size_t i) {
            const auto a = static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[i])),
                       b = static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[i + 1]));
            return big ? a << 8 | b : b << 8 | a;
        };
        for (std::size_t i = little || big ? 2 : 0; i + 1 < bytes.size(); i += 2) {
            std::uint32_t code = unit(i);
            if (code >= 0xD800 && code < 0xDC00 && i + 3 < bytes.size()) {
                code = 0x10000 + ((code - 0xD800) << 10) + (unit(i + 2) - 0xDC00);
                i += 2;
            }
            put(code > 0x10FFFF || (code >= 0xD800 && code < 0xE000) ? 0xFFFD : code);
        }
        return text;
    }
    if (bytes.starts_with("\xEF\xBB\xBF")) bytes.remove_prefix(3);
    if (encoding == Recipe::Encoding::Latin1) {
        for (const char c : bytes) put(static_cast<unsigned char>(c));
        return text;
    }
    if (base::isValidUtf8(bytes)) return std::string(bytes);
    std::size_t line = 1;
    for (std::size_t from = 0; from < bytes.size(); ++line) {
        const std::size_t to = std::min(bytes.find('\n', from), bytes.size());
        if (!base::isValidUtf8(bytes.substr(from, to - from))) break;
        from = to + 1;
    }
    return fail(ErrorCode::BadInput,
                fmt::format("{}:{}: holds what is no UTF-8; a recipe may say another “encoding”.", file, line));
}

Result<ReadList> read(const Recipe& recipe, std::string_view bytes, const std::string& file) {
    if (std::string why = unusable(recipe); !why.empty()) return fail(ErrorCode::BadInput, recipe.name + ": " + why);
    auto text = decoded(bytes, recipe.encoding, file);
    if (!text) return tl::unexpected(text.error());
    Reader reader(recipe, file);
    if (Status done = reader.run(*text); !done) return tl::unexpected(done.error());
    return std::move(reader.list);
}

bool looksLikeRadians(const Recipe& recipe, const ReadList& list) {
    std::size_t angles = 0, broken = 0;
    for (std::size_t i = 0; i < recipe.fields.size(); ++i) {
        const Is is = sourceOf(recipe.fields[i]);
        if (is < Is::TurnX || is > Is::TurnZ) continue;
        for (const ReadEntry& entry : list.entries) {
            if (!entry.values[i]) continue;
            double angle = 0;
            if (const auto* text = std::get_if<std::string>(&entry.values[i]->data)) {
                if (!isNumber(*text)) continue;
                angle = std::strtod(text->c_str(), nullptr);
            } else if (const double* number = model::asNumber(*entry.values[i], angle)) {
                angle = *number;
            }
            if (angle == 0) continue;
            if (std::abs(angle) > 2 * base::kPi + 1e-3) return false;
            ++angles;
            broken += angle != std::floor(angle) ? 1 : 0;
        }
    }
    return angles >= 3 && broken > 0;
}

Result<Recipe> guessed(std::string_view bytes, const std::string& file) {
    Recipe recipe;
    recipe.name = recipe.label = file;
    auto text = decoded(bytes, Recipe::Encoding::Utf8, file);
    if (!text) {
        recipe.encoding = Recipe::Encoding::Latin1;
        text = decoded(bytes, Recipe::Encoding::Latin1, file);
    }
    std::vector<std::string> columns;
    constexpr std::size_t kLookedAt = 200;
    const std::string_view start = base::trimmed(*text);
    const auto lookAt = [&](const Json& all) {
        for (std::size_t i = 0; i < all.size() && i < kLookedAt; ++i)
            if (all[i].is_object()) columnsIn(all[i], "", columns);
    };
    if (start.starts_with("<")) {
        pugi::xml_document document;
        const auto parsed = document.load_buffer(text->data(), text->size());
        if (!parsed) return fail(ErrorCode::BadInput, fmt::format("{}: {}.", file, parsed.description()));
        const pugi::xml_node first = document.document_element().first_child();
        recipe.form = Form::Xml;
        recipe.root = document.document_element().name();
        recipe.entry = first.name();
        for (const pugi::xml_attribute attribute : first.attributes())
            columns.push_back("@" + std::string(attribute.name()));
        for (const pugi::xml_node child : first.children())
            if (child.type() == pugi::node_element) columns.emplace_back(child.name());
    } else if (start.starts_with("[") || start.starts_with("{")) {
        auto all = io::parseJson(*text, file);
        const auto firstLine = io::parseJson(start.substr(0, start.find('\n')), file);
        if (!all && firstLine && firstLine->is_object()) {
            recipe.form = Form::JsonLines;
            columnsIn(*firstLine, "", columns);
        } else if (!all) {
            return tl::unexpected(all.error());
        } else {
            const Json* found = firstList(*all, recipe.inside);
            if (found == nullptr) return fail(ErrorCode::BadInput, file + ": holds no list.");
            if (found == &*all) recipe.inside = Value{false};
            lookAt(*found);
        }
    } else {
        recipe.form = Form::Csv;
        const std::string_view head = start.substr(0, start.find('\n'));
        const char* const signs = ",;\t|";
        recipe.separator = *std::max_element(signs, signs + 4, [&](char a, char b) {
            return std::count(head.begin(), head.end(), a) < std::count(head.begin(), head.end(), b);
        });
        auto rows = io::parseCells(head, recipe.separator.front());
        if (rows && !rows->empty()) columns = rows->front();
    }
    if (columns.empty()) return fail(ErrorCode::BadInput, file + ": no columns can be told in it.");
    for (const std::string& column : columns) {
        Field field;
        field.name = column;
        field.is = seems(column);
        if (field.is.empty()) field.is = lettersOf(column).empty() ? "name" : column.substr(column.rfind('.') + 1);
        if (field.is.starts_with("@")) field.is = field.is.substr(1);
        if (const std::string plain = seems(field.is); !plain.empty()) field.is = plain;
        if (field.is == "item") field.names = "items";
        recipe.fields.push_back(std::move(field));
    }
    recipe.names["items"];
    if (const auto list = read(recipe, bytes, file); list && looksLikeRadians(recipe, *list))
        recipe.convention.angles = AngleUnit::Radians;
    return recipe;
}

}  // namespace hand
