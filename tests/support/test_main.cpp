#include "support/test_main.h"

#include <cstdio>
#include <filesystem>
#include <map>
#include <string>

namespace test {

namespace {

std::map<std::string, RunTest>& all() {
    static std::map<std::string, RunTest> tests;
    return tests;
}

}  // namespace

Registered::Registered(const char* source, RunTest run) {
    all().emplace(std::filesystem::path(source).stem().string(), std::move(run));
}

int runNamed(int argc, char** argv) {
    const auto named = argc > 1 ? all().find(argv[1]) : all().end();
    if (named != all().end()) {
        argv[1] = argv[0];
        return named->second(argc - 1, argv + 1);
    }
    if (argc > 1) {
        std::fprintf(stderr, "%s: there is no test of that name here. There are:\n", argv[1]);
        for (const auto& [name, run] : all()) std::fprintf(stderr, "  %s\n", name.c_str());
        return 1;
    }
    int failures = 0;
    for (const auto& [name, run] : all()) failures += run(argc, argv);
    return failures;
}

}  // namespace test
