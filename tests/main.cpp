// The programs of tests that need no screen.

#include "suite.h"

#include <QCoreApplication>

int main(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    return ripple::tests::runSuite(argc, argv);
}
