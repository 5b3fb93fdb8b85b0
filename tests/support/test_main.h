#pragma once
// One program has all the tests of a room. Each test class says so with MELLOW_TEST at the end of its file, which is
// also its name on the command line: `ops_tests prefab_test [what Qt Test takes]`; without a name all of them run.
#include <QtTest>
#include <functional>

namespace test {

using RunTest = std::function<int(int argc, char** argv)>;

/// Exists before main() begins, and makes a test known by the name of its source.
struct Registered {
    Registered(const char* source, RunTest run);
};
/// Runs those that the command line names. Gives the number of failures, or 1 when there is none of that name.
int runNamed(int argc, char** argv);

}  // namespace test

#define MELLOW_TEST(Class)                                                           \
    static const test::Registered known##Class(__FILE__, [](int argc, char** argv) { \
        Class tests;                                                                 \
        return QTest::qExec(&tests, argc, argv);                                     \
    });
