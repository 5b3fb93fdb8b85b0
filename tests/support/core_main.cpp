#include <QCoreApplication>

#include "support/test_main.h"

int main(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    return test::runNamed(argc, argv);
}
