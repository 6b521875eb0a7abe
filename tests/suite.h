#pragma once

#include <QObject>
#include <QTest>

#include <memory>
#include <vector>

// Qt Test waits for five seconds; what does come is waited for as long as it takes on a busy machine.
#undef QTRY_VERIFY
#undef QTRY_COMPARE
#define QTRY_VERIFY(...) QTRY_VERIFY_WITH_TIMEOUT((__VA_ARGS__), 60000)
#define QTRY_COMPARE(actual, expected) QTRY_COMPARE_WITH_TIMEOUT(actual, expected, 60000)

namespace ripple::tests {

/// A class of tests that its program finds by name. Many classes make one program, so that what they share is
/// compiled and linked once; each is run in a process of its own (`PROGRAM SUITE [arguments of Qt Test]`), so
/// that one that crashes takes no other's result along.
class Suite {
public:
    using Make = std::unique_ptr<QObject> (*)();

    Suite(const QMetaObject& tested, Make make);

    /// As its file is called: "loops" of the class TestLoops in test_loops.cpp.
    QString name() const;
    std::unique_ptr<QObject> make() const { return make_(); }

    /// Of this program.
    static const std::vector<const Suite*>& all();

private:
    const QMetaObject& tested_;
    Make make_;
};

/// One of these stands at the end of a file of tests.
template <typename Tested>
class SuiteOf : public Suite {
public:
    SuiteOf() : Suite(Tested::staticMetaObject, [] { return std::unique_ptr<QObject>(new Tested); }) {}
};

/// main() of a program of suites; the application object exists already. 2 where no suite bears the name.
int runSuite(int argc, char** argv);

} // namespace ripple::tests
