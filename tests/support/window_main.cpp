#include <QApplication>

#include "support/test_main.h"

int main(int argc, char** argv) {
    QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
    QApplication application(argc, argv);
    return test::runNamed(argc, argv);
}
