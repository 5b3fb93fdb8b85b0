#include "app/shell/preferences.h"

#include <fmt/format.h>

#include "base/files.h"
#include "io/json_text.h"
#include "model/facet_builder.h"
#include "model/field_values.h"

namespace app {

namespace {

/// What was kept under other names before.
constexpr std::pair<const char*, const char*> kBefore[] = {
    {"tone", "window/theme"}, {"glide", "looks/glide"}, {"handleSize", "looks/handleSize"}};

QString keyOf(const model::Member& member) {
    return "preferences/" + QString::fromStdString(member.property.name);
}

std::optional<model::Value> valueIn(const model::Property& property, const QVariant& kept) {
    if (!kept.isValid()) return std::nullopt;
    if (property.type == model::PropertyType::Bool) return model::Value{kept.toBool()};
    if (property.type == model::PropertyType::Number) return model::Value{kept.toDouble()};
    return model::Value{kept.toString().toStdString()};
}

QVariant variantOf(const model::Value& value) {
    if (const auto* flag = std::get_if<bool>(&value.data)) return *flag;
    double room = 0;
    if (const double* number = model::asNumber(value, room)) return *number;
    return QString::fromStdString(std::get<std::string>(value.data));
}

void takeShortcuts(const model::ValueMap& wanted, CommandSet& commands, std::vector<std::string>& left) {
    for (const auto& [id, value] : wanted) {
        const Command* command = commands.command(QString::fromStdString(id));
        const auto* text = std::get_if<std::string>(&value.data);
        if (command == nullptr || text == nullptr) {
            left.push_back(fmt::format("shortcuts.{}: there is no such command, or its keys are no text.", id));
            continue;
        }
        const QKeySequence keys = QKeySequence::fromString(QString::fromStdString(*text), QKeySequence::PortableText);
        const Command* owner = commands.ownerOf(keys, command->id);
        if (owner != nullptr && model::valueOf(wanted, owner->id.toStdString()) == nullptr)
            left.push_back(fmt::format("shortcuts.{}: {} was “{}” before, which has no keys now.", id, *text,
                                       owner->text.toStdString()));
        commands.setShortcut(command->id, keys);
    }
}

}  // namespace

const model::Fields& preferenceFields() {
    static const model::Fields fields = [] {
        model::FieldsOf<Preferences> f;
        const auto on = [&](const char* page, const char* help) {
            f.last().category = page;
            f.last().help = help;
        };
        f.word("tone", "Theme", &Preferences::tone, {"dusk", "oat"});
        on("Look", "Dusk is dark, oat is light");
        f.flag("plainColours", "Colours that everybody can tell apart", &Preferences::plainColours);
        on("Look", "Of axes and marks: they differ in brightness and in blue and yellow, not in red and green");
        f.real("interfaceSize", "Interface size, at the next start", &Preferences::interfaceSize, "×", 0.8, 2);
        on("Look", "Of all words and panels, from the next start on");
        f.real("handleSize", "Handle size", &Preferences::handleSize, "×", 0.5, 2.5);
        on("View and mouse", "Of the handle in the view");
        f.flag("glide", "The camera glides", &Preferences::glide);
        on("View and mouse", "To another place in a moment; off: at once");
        f.real("orbitSpeed", "Orbit and look", &Preferences::orbitSpeed, "×", 0.1, 10);
        on("View and mouse", "How far the view turns as the mouse moves");
        f.flag("invertOrbit", "Up and down the other way", &Preferences::invertOrbit);
        on("View and mouse", "While orbiting and looking round");
        f.real("wheelSpeed", "Wheel", &Preferences::wheelSpeed, "×", 0.1, 10);
        on("View and mouse", "How far a notch of the wheel takes the view");
        f.flag("invertWheel", "The wheel the other way", &Preferences::invertWheel);
        on("View and mouse", "In the view");
        f.flag("opensLast", "Begin with the last project", &Preferences::opensLast);
        on("Files", "Off: the start page is shown");
        f.text("projectsFolder", "New projects in", &Preferences::projectsFolder);
        on("Files", "A folder; empty: in one’s documents");
        return f.done();
    }();
    return fields;
}

Preferences keptPreferences() {
    const QSettings settings;
    Preferences kept;
    for (const model::Member& member : preferenceFields().members) {
        QVariant held = settings.value(keyOf(member));
        for (const auto& [name, before] : kBefore)
            if (!held.isValid() && member.property.name == name) held = settings.value(QLatin1String(before));
        if (const auto value = valueIn(member.property, held))
            (void)model::setMember(preferenceFields(), &kept, member, *value);
    }
    return kept;
}

void keepPreferences(const Preferences& preferences) {
    QSettings settings;
    for (const model::Member& member : preferenceFields().members)
        settings.setValue(keyOf(member), variantOf(*member.get(&preferences)));
}

base::Status exportPreferences(const std::filesystem::path& file, const Preferences& preferences,
                               const CommandSet& commands) {
    model::ValueMap own;
    for (const model::Member& member : preferenceFields().members)
        own.emplace_back(member.property.name, *member.get(&preferences));
    io::Json shortcuts = io::Json::object();
    for (const Command& command : commands.all())
        if (const QKeySequence now = commands.action(command.id)->shortcut(); now != command.shortcut)
            shortcuts[command.id.toStdString()] = now.toString(QKeySequence::PortableText).toStdString();
    const io::Json all = {{"format", "mellow-settings"},
                          {"version", 1},
                          {"preferences", io::toJson(model::Value{own})},
                          {"shortcuts", shortcuts}};
    return base::writeFileWhole(file, io::toText(all, 2) + "\n");
}

base::Result<std::vector<std::string>> importPreferences(const std::filesystem::path& file, Preferences& preferences,
                                                         CommandSet& commands) {
    auto text = base::readFile(file, base::most::kSmall);
    if (!text) return tl::unexpected(text.error());
    auto json = io::readOurs(*text, file.string(), "mellow-settings");
    if (!json) return tl::unexpected(json.error());
    const model::ValueMap all = io::toValues(*json);
    std::vector<std::string> left;
    const auto part = [&](const char* key) {
        const model::Value* value = model::valueOf(all, key);
        const auto* map = value != nullptr ? std::get_if<model::ValueMap>(&value->data) : nullptr;
        if (value != nullptr && map == nullptr) left.push_back(std::string(key) + ": is no object.");
        return map != nullptr ? *map : model::ValueMap{};
    };
    model::takeValues(preferenceFields(), &preferences, part("preferences"), left);
    takeShortcuts(part("shortcuts"), commands, left);
    return left;
}

}  // namespace app
