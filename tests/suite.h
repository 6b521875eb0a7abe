#pragma once

#include <QObject>

#include <memory>
#include <vector>

namespace ripple::tests {

/// A class of tests that its program finds by name. Many classes make one program, so that what they share is
/// compiled and linked once; each is run in a process of its own (`PROGRAM SUITE [arguments of Qt Test]`), so that
/// one that crashes takes no other's result along.
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
