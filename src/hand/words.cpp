#include "hand/words.h"

namespace hand {

std::string withWords(const std::string& text, const Words& words) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if ((text[i] == '{' || text[i] == '}') && i + 1 < text.size() && text[i + 1] == text[i]) {
            out += text[i++];
            continue;
        }
        const std::size_t end = text[i] == '{' ? text.find('}', i) : std::string::npos;
        const auto word = end == std::string::npos ? words.end() : words.find(text.substr(i + 1, end - i - 1));
        if (word == words.end()) {
            out += text[i];
            continue;
        }
        out += word->second;
        i = end;
    }
    return out;
}

}  // namespace hand
