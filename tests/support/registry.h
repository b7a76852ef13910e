#pragma once
#include <QObject>
#include <map>
#include <memory>
#include <string>

namespace wavechroma::testing {

using MakeTest = std::unique_ptr<QObject> (*)();

/// The test classes of a program, by the name of their file.
inline std::map<std::string, MakeTest> &registry()
{
    static std::map<std::string, MakeTest> tests;
    return tests;
}

/// One at the end of each test file: `static const testing::Registered<FitTest> registered("fit_test");`
template <class Test> struct Registered
{
    explicit Registered(const char *name)
    {
        registry()[name] = [] { return std::unique_ptr<QObject>(std::make_unique<Test>()); };
    }
};

} // namespace wavechroma::testing
