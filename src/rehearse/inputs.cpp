#include "rehearse/inputs.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>

#include "base/text.h"

namespace rehearse {
namespace {

using base::ErrorCode;
using base::fail;

constexpr std::string_view kHead = "mellow-inputs 1";
constexpr std::pair<Input::Key, std::string_view> kKeys[] = {{Input::Run, "run"},   {Input::Jump, "jump"},
                                                             {Input::Duck, "duck"}, {Input::Use, "use"},
                                                             {Input::Take, "take"}, {Input::Throw, "throw"}};

std::optional<double> numberIn(std::string_view word, double most) {
    double value = 0;
    const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), value);
    if (error != std::errc() || end != word.data() + word.size() || !(std::abs(value) <= most)) return std::nullopt;
    return value;
}

std::vector<std::string_view> wordsOf(std::string_view line) {
    std::vector<std::string_view> words;
    for (const std::string_view word : base::split(line, ' '))
        if (!word.empty()) words.push_back(word);
    return words;
}

/// So many numbers after a word, within a range.
class Words {
  public:
    explicit Words(std::vector<std::string_view> words) : words_(std::move(words)) {}
    bool more() const { return at_ < words_.size(); }
    std::string_view next() { return more() ? words_[at_++] : std::string_view(); }
    std::optional<double> number(double most) { return numberIn(next(), most); }
    std::optional<base::Vec3> place() {
        base::Vec3 at{0.0};
        for (int k = 0; k < 3; ++k) {
            const auto value = number(1e7);
            if (!value) return std::nullopt;
            at[k] = *value;
        }
        return at;
    }

  private:
    std::vector<std::string_view> words_;
    std::size_t at_ = 0;
};

/// What is said at a time, on top of what was; false: not understood.
bool take(Words& words, Input& input) {
    const auto share = [&](std::int16_t& into) {
        const auto value = words.number(1);
        if (value) into = static_cast<std::int16_t>(std::lround(*value * 100));
        return value.has_value();
    };
    while (words.more()) {
        const std::string_view word = words.next();
        if (word == "ahead" || word == "side" || word == "up") {
            if (!share(word == "ahead" ? input.ahead : word == "side" ? input.side : input.up)) return false;
        } else if (word == "look") {
            const auto yaw = words.number(360), pitch = words.number(89);
            if (!yaw || !pitch) return false;
            input.yaw = hundredths(*yaw);
            input.pitch = static_cast<std::int32_t>(std::lround(*pitch * 100));
        } else if (word == "at") {
            const auto at = words.place();
            if (!at) return false;
            input.place = at;
        } else {
            bool known = false;
            for (const auto& [key, name] : kKeys)
                if (word.size() > 1 && word.substr(1) == name && (word[0] == '+' || word[0] == '-')) {
                    input.keys = static_cast<std::uint8_t>(word[0] == '+' ? input.keys | key : input.keys & ~key);
                    known = true;
                }
            if (!known) return false;
        }
    }
    return true;
}

std::string changesOf(const Input& before, const Input& now) {
    std::string out;
    const auto share = [&](std::string_view word, std::int16_t was, std::int16_t is) {
        if (was != is) out += fmt::format(" {} {}", word, base::shortest(is / 100.0));
    };
    share("ahead", before.ahead, now.ahead);
    share("side", before.side, now.side);
    share("up", before.up, now.up);
    for (const auto& [key, name] : kKeys)
        if (before.has(key) != now.has(key)) out += fmt::format(" {}{}", now.has(key) ? '+' : '-', name);
    if (before.yaw != now.yaw || before.pitch != now.pitch)
        out += fmt::format(" look {} {}", base::shortest(degrees(now.yaw)), base::shortest(degrees(now.pitch)));
    if (now.place)
        out += fmt::format(" at {} {} {}", base::shortest(now.place->x), base::shortest(now.place->y),
                           base::shortest(now.place->z));
    return out;
}

/// The line's own words; false: they are not understood.
bool takeHead(std::string_view line, Inputs& inputs, std::optional<double>& seconds) {
    Words words(wordsOf(line));
    const std::string_view word = words.next();
    const std::string rest(base::trimmed(line.substr(std::min(line.size(), word.size()))));
    if (word == "scene") return inputs.scene = rest, !rest.empty();
    if (word == "name") return inputs.name = rest, true;
    if (word == "seconds") {
        seconds = words.number(3600);
        return seconds && *seconds >= 0;
    }
    if (word != "start") return false;
    const auto at = words.place();
    const auto yaw = words.number(360);
    if (!at || !yaw) return false;
    inputs.start.feet = *at;
    inputs.start.yawDegrees = *yaw;
    if (!words.more()) return true;
    const auto id = base::parseObjectId(words.next());
    if (id) inputs.start.id = *id;
    return id.has_value();
}

}  // namespace

std::int32_t hundredths(double value) {
    if (!std::isfinite(value)) return 0;
    const double turned = value - 360 * std::round(value / 360);
    return static_cast<std::int32_t>(std::lround(turned * 100));
}

bool operator==(const Inputs& a, const Inputs& b) {
    return a.scene == b.scene && a.name == b.name && a.start.id == b.start.id && a.start.feet == b.start.feet &&
           a.start.yawDegrees == b.start.yawDegrees && a.steps == b.steps;
}

std::string toText(const Inputs& inputs) {
    std::string out = std::string(kHead) + "\nscene " + inputs.scene + "\n";
    if (!inputs.name.empty()) out += "name " + inputs.name + "\n";
    const base::Vec3& at = inputs.start.feet;
    out += fmt::format("start {} {} {} {}", base::shortest(at.x), base::shortest(at.y), base::shortest(at.z),
                       base::shortest(inputs.start.yawDegrees));
    if (inputs.start.id) out += " " + base::toText(inputs.start.id);
    out += fmt::format("\nseconds {:.3f}\n", static_cast<double>(inputs.steps.size()) * kStep);
    Input before;
    for (std::size_t i = 0; i < inputs.steps.size(); ++i) {
        const std::string changes = changesOf(before, inputs.steps[i]);
        if (!changes.empty()) out += fmt::format("{:.3f}{}\n", static_cast<double>(i) * kStep, changes);
        before = inputs.steps[i];
        before.place.reset();
    }
    return out;
}

base::Result<Inputs> inputsFrom(std::string_view text) {
    Inputs inputs;
    std::optional<double> seconds;
    Input now;
    int number = 0;
    const auto wrong = [&](const std::string& why) {
        return fail(ErrorCode::BadInput, fmt::format("Line {} of the inputs: {}", number, why));
    };
    bool begun = false;
    for (const std::string& line : base::linesOf(text)) {
        ++number;
        const std::string_view trimmed = base::trimmed(line);
        if (trimmed.empty() || trimmed.front() == '#') continue;
        if (!begun) {
            if (trimmed != kHead) return wrong(fmt::format("“{}” was expected.", kHead));
            begun = true;
            continue;
        }
        const std::string shown = base::forTerminal(trimmed.substr(0, 60));
        if (trimmed.front() < '0' || trimmed.front() > '9') {
            if (!takeHead(trimmed, inputs, seconds)) return wrong(fmt::format("“{}” is not understood.", shown));
            continue;
        }
        Words words(wordsOf(trimmed));
        const auto time = words.number(3600);
        if (!time || *time < 0) return wrong(fmt::format("“{}” does not begin with seconds, up to an hour.", shown));
        const auto step = static_cast<std::size_t>(std::lround(*time * kStepsPerSecond));
        if (step < inputs.steps.size()) return wrong("The times must go up.");
        now.place.reset();
        Input held = now;
        inputs.steps.resize(step, held);
        if (!take(words, now)) return wrong(fmt::format("“{}” is not understood.", shown));
        inputs.steps.push_back(now);
    }
    if (!begun) return wrong(fmt::format("“{}” was expected.", kHead));
    now.place.reset();
    const auto whole =
        seconds ? static_cast<std::size_t>(std::lround(*seconds * kStepsPerSecond)) : inputs.steps.size();
    if (whole > inputs.steps.size()) inputs.steps.resize(whole, now);
    return inputs;
}

}  // namespace rehearse
