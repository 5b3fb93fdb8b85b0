#include "io/media_facts.h"

#include <array>
#include <fstream>

namespace io {

namespace fs = std::filesystem;

namespace {

int bigEndian(const unsigned char* p, int bytes) {
    int n = 0;
    for (int i = 0; i < bytes; ++i) n = n << 8 | p[i];
    return n;
}

/// ISO/IEC 15948: width and height stand in the first chunk.
void readPng(std::ifstream& in, check::MediaFacts& facts) {
    std::array<unsigned char, 24> head{};
    in.read(reinterpret_cast<char*>(head.data()), head.size());
    if (!in || head[1] != 'P' || head[2] != 'N' || head[3] != 'G') return;
    facts.width = bigEndian(&head[16], 4);
    facts.height = bigEndian(&head[20], 4);
}

/// ITU T.81: the frame header says them; segments before it are passed over.
void readJpeg(std::ifstream& in, check::MediaFacts& facts) {
    std::array<unsigned char, 9> part{};
    in.read(reinterpret_cast<char*>(part.data()), 2);
    if (!in || part[0] != 0xFF || part[1] != 0xD8) return;
    for (int segments = 0; segments < 1000; ++segments) {
        in.read(reinterpret_cast<char*>(part.data()), 4);
        if (!in || part[0] != 0xFF) return;
        const int marker = part[1], length = bigEndian(&part[2], 2);
        const bool frame = marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC;
        if (!frame) {
            in.seekg(length - 2, std::ios::cur);
            continue;
        }
        in.read(reinterpret_cast<char*>(part.data()), 5);
        if (!in) return;
        facts.height = bigEndian(&part[1], 2);
        facts.width = bigEndian(&part[3], 2);
        return;
    }
}

}  // namespace

std::map<std::string, check::MediaFacts> mediaFacts(const fs::path& project) {
    std::map<std::string, check::MediaFacts> all;
    std::error_code problem;
    for (fs::directory_iterator it(project / "media", problem), end; !problem && it != end; it.increment(problem)) {
        std::error_code ignored;
        if (!it->is_regular_file(ignored)) continue;
        check::MediaFacts facts;
        facts.bytes = it->file_size(ignored);
        std::ifstream in(it->path(), std::ios::binary);
        const auto ending = it->path().extension();
        if (ending == ".png") readPng(in, facts);
        if (ending == ".jpg" || ending == ".jpeg") readJpeg(in, facts);
        all[it->path().filename().string()] = facts;
    }
    return all;
}

}  // namespace io
