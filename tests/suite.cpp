#include "suite.h"

#include <QRegularExpression>
#include <QTest>

#include <algorithm>
#include <cstdio>

namespace ripple::tests {

namespace {

std::vector<const Suite*>& suites() {
    static std::vector<const Suite*> all;
    return all;
}

} // namespace

Suite::Suite(const QMetaObject& tested, Make maker) : tested_(tested), make_(maker) {
    suites().push_back(this);
}

QString Suite::name() const {
    static const QRegularExpression kWord("(?<=[a-z0-9])(?=[A-Z])");
    const QString className = tested_.className();
    return className.mid(int(sizeof "Test") - 1).replace(kWord, "_").toLower();
}

const std::vector<const Suite*>& Suite::all() {
    return suites();
}

int runSuite(int argc, char** argv) {
    const QString wanted = argc > 1 ? QString(argv[1]) : QString();
    for (const Suite* suite : Suite::all()) {
        if (suite->name() == wanted) {
            std::copy(argv + 2, argv + argc, argv + 1);
            const auto tests = suite->make();
            return QTest::qExec(tests.get(), argc - 1, argv);
        }
    }
    QStringList names;
    for (const Suite* suite : Suite::all()) {
        names << suite->name();
    }
    names.sort();
    std::fprintf(stderr, "%s SUITE [test or option of Qt Test]..., where SUITE is one of\n  %s\n", argv[0],
                 qPrintable(names.join("\n  ")));
    return 2;
}

} // namespace ripple::tests
