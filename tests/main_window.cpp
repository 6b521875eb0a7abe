// The program of tests that use parts of the window.

#include "suite.h"

#include <QApplication>

int main(int argc, char** argv) {
    QApplication::setAttribute(Qt::AA_ShareOpenGLContexts); // as the application does
    QApplication application(argc, argv);
    return ripple::tests::runSuite(argc, argv);
}
