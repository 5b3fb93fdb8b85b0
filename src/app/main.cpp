// mellow-lattice: the desktop application.
#include <QApplication>
#include <QCommandLineParser>
#include <QDateTime>
#include <QSettings>
#include <QTimer>
#include <random>

#include "app/shell/main_window.h"

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setApplicationName("mellow-lattice");
    QApplication::setOrganizationName("mellow-lattice");
    QApplication::setApplicationVersion("0.1.0");
    QApplication::setStyle("Fusion");

    QCommandLineParser arguments;
    arguments.setApplicationDescription(
        QCoreApplication::translate("main", "Places, moves and arranges objects in 3D game scenes."));
    arguments.addHelpOption();
    arguments.addVersionOption();
    arguments.addPositionalArgument(
        "project", QCoreApplication::translate("main", "The project's folder; without it the last one is opened."),
        "[PROJECT]");
    const QCommandLineOption scene("scene", QCoreApplication::translate("main", "Show this scene first."), "NAME");
    const QCommandLineOption readOnly("read-only", QCoreApplication::translate("main", "Open for looking only."));
    arguments.addOptions({scene, readOnly});
    arguments.process(application);

    std::random_device device;
    const std::uint64_t seed = (std::uint64_t{device()} << 32) | device();
    app::Editor editor({[] { return QDateTime::currentMSecsSinceEpoch(); }, seed});
    app::MainWindow window(editor);
    window.show();
    QString path = arguments.positionalArguments().value(0);
    if (path.isEmpty()) path = QSettings().value("projects/recent").toStringList().value(0);
    if (!path.isEmpty())
        QTimer::singleShot(0, &window, [&] {
            window.openProject(path, arguments.isSet(readOnly) ? io::OpenMode::ReadOnly : io::OpenMode::Edit,
                               arguments.value(scene));
        });
    return QApplication::exec();
}
