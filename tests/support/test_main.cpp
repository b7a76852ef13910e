// PROGRAM [TEST [QTEST OPTION…]]: runs the test class registered under that name; all of them without a name.
#include "support/registry.h"

#include <QTest>
#ifdef WAVECHROMA_TEST_WIDGETS
#include <QApplication>
using Application = QApplication;
#else
#include <QCoreApplication>
using Application = QCoreApplication;
#endif
#include <cstdio>

int main(int argc, char **argv)
{
    Application application(argc, argv);
    auto &tests = wavechroma::testing::registry();
    const std::string asked = argc > 1 ? argv[1] : "";
    if (argc > 1 && !tests.count(asked)) {
        std::fprintf(stderr, "%s: no test \"%s\" in this program\n", argv[0], asked.c_str());
        return 2;
    }
    int failed = 0;
    for (const auto &[name, make] : tests)
        if (asked.empty() || name == asked) {
            const auto test = make();
            failed += argc > 1 ? QTest::qExec(test.get(), argc - 1, argv + 1) : QTest::qExec(test.get());
        }
    return failed;
}
