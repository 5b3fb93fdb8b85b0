#include "hand/write.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <algorithm>
#include <set>
#include <sstream>

#include "base/files.h"
#include "base/text.h"
#include "hand/names.h"
#include "hand/words.h"
#include "io/csv.h"
#include "io/json_text.h"
#include "model/value_json.h"

namespace hand {
namespace {

using io::Json;

std::string jsonText(const Value& value) {
    std::string text;
    model::appendJson(text, value, false);
    return text;
}

/// As a CSV cell, an attribute or a template has it.
std::string plainText(const Value& value) {
    if (const auto* text = std::get_if<std::string>(&value.data)) return *text;
    if (const auto* truth = std::get_if<bool>(&value.data)) return *truth ? "true" : "false";
    double room = 0;
    if (const double* number = model::asNumber(value, room)) return base::shortest(*number);
    if (const auto* list = std::get_if<ValueList>(&value.data)) {
        std::string all;
        for (const Value& one : *list) all += (all.empty() ? "" : " ") + plainText(one);
        return all;
    }
    return jsonText(value);
}

/// "place.x" puts x into the object "place".
void putAt(ValueMap& map, std::string_view path, Value value) {
    const std::size_t dot = path.find('.');
    if (dot == std::string_view::npos) return model::setValue(map, path, std::move(value));
    const std::string_view first = path.substr(0, dot);
    const Value* held = model::valueOf(map, first);
    const auto* inner = held != nullptr ? std::get_if<ValueMap>(&held->data) : nullptr;
    ValueMap into = inner != nullptr ? *inner : ValueMap{};
    putAt(into, path.substr(dot + 1), std::move(value));
    model::setValue(map, first, Value{std::move(into)});
}

ValueMap mapOf(const Recipe& recipe, const Entry& entry) {
    ValueMap map;
    for (std::size_t i = 0; i < recipe.fields.size(); ++i)
        if (entry.values[i]) putAt(map, recipe.fields[i].name, *entry.values[i]);
    return map;
}

using Entries = std::vector<const Entry*>;

/// Text that grows, and what of it is said of whom.
struct Growing {
    WrittenFile& file;
    void add(std::string_view text) { file.text += text; }
    void addOf(const Entry& entry, std::string_view text) {
        const std::size_t from = file.text.size();
        file.text += text;
        file.spans.push_back({entry.id, from, file.text.size()});
    }
};

/// Where a list stands in what is round it: its text before and after, and how deep it is indented.
struct Around {
    std::string before, after;
    std::size_t indent = 0;
};
Around aroundOf(const Value& inside) {
    if (std::holds_alternative<bool>(inside.data)) return {"", "\n", 0};
    const std::string text = io::toText(io::toJson(inside), 2);
    const std::size_t at = text.find("\"*\"");
    if (at == std::string::npos) return {"", "\n", 0};
    const std::size_t line = text.rfind('\n', at) + 1;
    return {text.substr(0, at), text.substr(at + 3) + "\n", text.find_first_not_of(' ', line) - line};
}

void writeJson(const Recipe& recipe, const Entries& entries, Growing& out) {
    const Around around = aroundOf(recipe.inside);
    const std::string pad(around.indent + 2, ' ');
    out.add(around.before);
    out.add("[");
    for (std::size_t i = 0; i < entries.size(); ++i) {
        out.add(i == 0 ? "\n" : ",\n");
        out.add(pad);
        std::string line;
        model::appendJson(line, Value{mapOf(recipe, *entries[i])}, false);
        out.addOf(*entries[i], line);
    }
    out.add(entries.empty() ? "]" : "\n" + std::string(around.indent, ' ') + "]");
    out.add(around.after);
}

class TreeWriter {
  public:
    TreeWriter(const Recipe& recipe, const Gathered& all, const Entries& entries, Growing& out)
        : recipe_(recipe), out_(out) {
        for (const Entry* entry : entries) {
            const Entry* above = entry->below < 0 ? nullptr : &all.entries[static_cast<std::size_t>(entry->below)];
            below_[above != nullptr && above->part == entry->part ? above : nullptr].push_back(entry);
        }
    }
    void run() {
        const Around around = aroundOf(recipe_.inside);
        out_.add(around.before);
        list(nullptr, around.indent);
        out_.add(around.after);
    }

  private:
    void list(const Entry* above, std::size_t indent) {
        const Entries& all = below_[above];
        const std::string pad(indent + 2, ' ');
        out_.add("[");
        for (std::size_t i = 0; i < all.size(); ++i) {
            out_.add(i == 0 ? "\n" : ",\n");
            out_.add(pad);
            const std::string own = jsonText(Value{mapOf(recipe_, *all[i])});
            const bool holds = below_.contains(all[i]);
            out_.addOf(*all[i], holds ? own.substr(0, own.size() - 1) : own);
            if (!holds) continue;
            out_.add(own == "{}" ? "" : ",");
            std::string key;
            base::appendJsonString(key, recipe_.children);
            out_.add(key + ":");
            list(all[i], indent + 2);
            out_.add("}");
        }
        out_.add(all.empty() ? "]" : "\n" + std::string(indent, ' ') + "]");
    }
    const Recipe& recipe_;
    Growing& out_;
    std::map<const Entry*, Entries> below_;
};

void writeLines(const Recipe& recipe, const Entries& entries, Growing& out) {
    for (const Entry* entry : entries) {
        out.addOf(*entry, jsonText(Value{mapOf(recipe, *entry)}));
        out.add("\n");
    }
}

/// RFC 4180, with the recipe's separator.
std::string cell(const Recipe& recipe, const std::string& text) {
    if (text.find_first_of(recipe.separator + "\"\r\n") == std::string::npos) return text;
    std::string quoted = "\"";
    for (const char c : text) quoted += c == '"' ? "\"\"" : std::string(1, c);
    return quoted + "\"";
}

void writeCsv(const Recipe& recipe, const Entries& entries, Growing& out) {
    std::string line;
    for (const Field& field : recipe.fields) line += (line.empty() ? "" : recipe.separator) + cell(recipe, field.name);
    if (recipe.headLine) out.add(line + "\n");
    for (const Entry* entry : entries) {
        line.clear();
        for (std::size_t i = 0; i < recipe.fields.size(); ++i) {
            if (i > 0) line += recipe.separator;
            if (entry->values[i]) line += cell(recipe, plainText(*entry->values[i]));
        }
        out.addOf(*entry, line);
        out.add("\n");
    }
}

void putXml(pugi::xml_node node, const std::string& name, const std::string& text) {
    const std::size_t dot = name.find('.');
    if (dot != std::string::npos) {
        const std::string first = name.substr(0, dot);
        pugi::xml_node inner = node.child(first.c_str());
        return putXml(inner ? inner : node.append_child(first.c_str()), name.substr(dot + 1), text);
    }
    if (name.starts_with("@"))
        node.append_attribute(name.c_str() + 1).set_value(text.c_str());
    else
        node.append_child(name.c_str()).text().set(text.c_str());
}

void writeXml(const Recipe& recipe, const Entries& entries, Growing& out) {
    const char* charset = recipe.encoding == Recipe::Encoding::Utf16    ? "utf-16"
                          : recipe.encoding == Recipe::Encoding::Latin1 ? "iso-8859-1"
                                                                        : "utf-8";
    out.add(fmt::format("<?xml version=\"1.0\" encoding=\"{}\"?>\n<{}>\n", charset, recipe.root));
    for (const Entry* entry : entries) {
        pugi::xml_document document;
        pugi::xml_node node = document.append_child(recipe.entry.c_str());
        for (std::size_t i = 0; i < recipe.fields.size(); ++i)
            if (entry->values[i])
                putXml(node, recipe.fields[i].name, base::withoutControl(plainText(*entry->values[i])));
        std::ostringstream text;
        node.print(text, "  ", pugi::format_indent, pugi::encoding_utf8, 1);
        std::string own = text.str();
        while (own.ends_with('\n')) own.pop_back();
        const std::size_t pad = std::min(own.find_first_not_of(' '), own.size());
        out.add(std::string_view(own).substr(0, pad));
        out.addOf(*entry, std::string_view(own).substr(pad));
        out.add("\n");
    }
    out.add(fmt::format("</{}>\n", recipe.root));
}

void writeText(const Recipe& recipe, const Entries& entries, const Words& words, Growing& out) {
    out.add(withWords(recipe.head, words));
    const auto parts = partsOf(recipe.each, recipe).value_or(std::vector<TemplatePart>{});
    for (std::size_t i = 0; i < entries.size(); ++i) {
        if (i > 0) out.add(recipe.between);
        std::string own;
        for (const TemplatePart& part : parts) {
            own += part.text;
            if (part.field >= 0)
                if (const auto& value = entries[i]->values[static_cast<std::size_t>(part.field)])
                    own += plainText(*value);
        }
        out.addOf(*entries[i], own);
    }
    out.add(withWords(recipe.foot, words));
}

/// Line ends as wanted; spans follow.
void useCrlf(WrittenFile& file) {
    std::string text;
    std::vector<std::size_t> moved(1, 0);
    std::size_t span = 0;
    std::vector<std::pair<std::size_t, std::size_t*>> places;
    for (WrittenFile::Span& one : file.spans) {
        places.emplace_back(one.from, &one.from);
        places.emplace_back(one.to, &one.to);
    }
    std::sort(places.begin(), places.end());
    for (std::size_t i = 0; i <= file.text.size(); ++i) {
        while (span < places.size() && places[span].first == i) *places[span++].second = text.size();
        if (i == file.text.size()) break;
        if (file.text[i] == '\n' && (i == 0 || file.text[i - 1] != '\r')) text += '\r';
        text += file.text[i];
    }
    file.text = std::move(text);
}

void appendUnit16(std::string& out, std::uint32_t unit) {
    out += static_cast<char>(unit & 0xFF);
    out += static_cast<char>(unit >> 8 & 0xFF);
}

/// Characters that an encoding has no sign for become "?"; how many.
std::string coded(const std::string& text, Recipe::Encoding encoding, std::size_t& lost) {
    if (encoding == Recipe::Encoding::Utf8) return text;
    if (encoding == Recipe::Encoding::Utf8Marked) return "\xEF\xBB\xBF" + text;
    std::string out;
    if (encoding == Recipe::Encoding::Utf16) out = "\xFF\xFE";  // little end first, and says so
    for (std::size_t i = 0; i < text.size();) {
        const auto [code, length] = base::codePointAt(text, i);
        i += length;
        if (encoding == Recipe::Encoding::Latin1) {
            lost += code > 0xFF ? 1 : 0;
            out += static_cast<char>(code > 0xFF ? '?' : code);
        } else if (code < 0x10000) {
            appendUnit16(out, code);
        } else {
            appendUnit16(out, 0xD800 + ((code - 0x10000) >> 10));
            appendUnit16(out, 0xDC00 + ((code - 0x10000) & 0x3FF));
        }
    }
    return out;
}

}  // namespace

Result<std::vector<TemplatePart>> partsOf(const std::string& text, const Recipe& recipe) {
    std::vector<TemplatePart> parts(1);
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if ((c == '{' || c == '}') && i + 1 < text.size() && text[i + 1] == c) {
            parts.back().text += c;
            ++i;
            continue;
        }
        if (c != '{') {
            parts.back().text += c;
            continue;
        }
        const std::size_t end = text.find('}', i);
        if (end == std::string::npos)
            return fail(ErrorCode::BadInput, "each: a brace { is not closed; {{ stands for one.");
        const std::string name = text.substr(i + 1, end - i - 1);
        const auto field = std::ranges::find(recipe.fields, name, &Field::name);
        if (field == recipe.fields.end())
            return fail(ErrorCode::BadInput,
                        fmt::format("each: there is no field “{}”; {{{{ stands for a brace.", name));
        parts.back().field = field - recipe.fields.begin();
        parts.emplace_back();
        i = end;
    }
    return parts;
}

std::string unusable(const Recipe& recipe) {
    if (recipe.fields.empty()) return "fields: there are none.";
    if (recipe.form == Recipe::Form::Text) {
        const auto parts = partsOf(recipe.each, recipe);
        if (!parts) return parts.error().message;
    }
    const auto isName = [](const std::string& name) {
        pugi::xml_document document;
        return !name.empty() && name.find_first_of(" <>&\"'/=\t\n") == std::string::npos && name.front() != '-' &&
               name.front() != '.' && !(name.front() >= '0' && name.front() <= '9');
    };
    if (recipe.form == Recipe::Form::Xml) {
        for (const std::string& name : {recipe.root, recipe.entry})
            if (!isName(name)) return "“" + name + "” can be no element of XML.";
        for (const Field& field : recipe.fields)
            for (const std::string_view part : base::split(std::string_view(field.name), '.'))
                if (!isName(std::string(part.starts_with("@") ? part.substr(1) : part)))
                    return "fields: “" + field.name + "” can be no name in XML.";
    }
    if (recipe.isJson() && recipe.form != Recipe::Form::JsonLines &&
        !std::holds_alternative<bool>(recipe.inside.data) && jsonText(recipe.inside).find("\"*\"") == std::string::npos)
        return "inside: \"*\" is missing; it says where the list goes.";
    return {};
}

Written write(const Source& source, const Recipe& recipe) {
    Written out;
    if (std::string why = unusable(recipe); !why.empty()) {
        out.remarks.push_back(why + " Nothing is written.");
        return out;
    }
    Gathered all = gather(source, recipe);
    out.remarks = std::move(all.remarks);
    out.passedOver = all.passedOver;
    out.farthestRounded = all.farthestRounded;
    out.entries = all.entries.size();
    std::map<std::string, Entries> parts;
    if (recipe.files == Recipe::Files::One) parts[""];
    for (const Entry& entry : all.entries) parts[entry.part].push_back(&entry);
    std::set<std::string> taken;
    for (const auto& [part, entries] : parts) {
        WrittenFile& file = out.files.emplace_back();
        Words words = {{"scene", source.scene.name()},
                       {"part", base::plainFileName(part)},
                       {"count", std::to_string(entries.size())}};
        file.name = withWords(recipe.file, words);
        for (int n = 2; !taken.insert(file.name).second; ++n)
            file.name =
                withWords(recipe.file, {{"scene", words["scene"]}, {"part", fmt::format("{}-{}", words["part"], n)}}) +
                (recipe.file.find("{part}") == std::string::npos ? fmt::format("-{}", n) : "");
        words["file"] = file.name;
        Growing grows{file};
        switch (recipe.form) {
            case Recipe::Form::Json: writeJson(recipe, entries, grows); break;
            case Recipe::Form::JsonTree: TreeWriter(recipe, all, entries, grows).run(); break;
            case Recipe::Form::JsonLines: writeLines(recipe, entries, grows); break;
            case Recipe::Form::Csv: writeCsv(recipe, entries, grows); break;
            case Recipe::Form::Xml: writeXml(recipe, entries, grows); break;
            case Recipe::Form::Text: writeText(recipe, entries, words, grows); break;
        }
        if (recipe.crlf) useCrlf(file);
        std::size_t lost = 0;
        file.coded = coded(file.text, recipe.encoding, lost);
        if (lost > 0)
            out.remarks.push_back(
                fmt::format("{}: {} characters have no sign in latin-1 and became “?”.", file.name, lost));
    }
    return out;
}

}  // namespace hand
