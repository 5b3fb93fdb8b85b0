// mellow-lattice: the desktop application.
#include <QApplication>
#include <QCommandLineParser>
#include <QDateTime>
#include <QTimer>
#include <clocale>
#include <random>

#include "app/shell/main_window.h"
#include "app/shell/preferences.h"
#include "app/shell/recent_projects.h"
#include "io/workspace.h"

namespace {

/// What nobody expected is told, and the window goes on: every step until then is on disk.
class Application : public QApplication {
  public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        try {
            return QApplication::notify(receiver, event);
        } catch (const std::exception& problem) {
            qWarning("This should not have happened: %s", problem.what());
            return false;
        }
    }
};

}  // namespace

int main(int argc, char** argv) {
    QApplication::setApplicationName("mellow-lattice");
    QApplication::setOrganizationName("mellow-lattice");
    const app::Preferences likes = app::keptPreferences();
    if (likes.interfaceSize != 1 && !qEnvironmentVariableIsSet("QT_SCALE_FACTOR"))
        qputenv("QT_SCALE_FACTOR", QByteArray::number(likes.interfaceSize));
    Application application(argc, argv);
    std::setlocale(LC_NUMERIC, "C");  // what is read and written is the same on every desktop
    QApplication::setApplicationVersion(MELLOW_VERSION);
    QApplication::setStyle("Fusion");
    QApplication::setWindowIcon(QIcon(":/icons/mellow-lattice.svg"));

    QCommandLineParser arguments;
    arguments.setApplicationDescription(
        QCoreApplication::translate("main", "Places, moves and arranges objects in 3D game scenes."));
    arguments.addHelpOption();
    arguments.addVersionOption();
    arguments.addPositionalArgument(
        "project",
        QCoreApplication::translate(
            "main",
            "The project’s folder, a scene in it, or a model to be imported; without it the start "
            "page is shown."),
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
    if (path.isEmpty() && likes.opensLast) path = app::recentFolders().value(0);
    if (path.isEmpty())
        window.showStart();
    else
        QTimer::singleShot(0, &window, [&] {
            window.openPath(path, arguments.isSet(readOnly) ? io::OpenMode::ReadOnly : io::OpenMode::Edit,
                            arguments.value(scene));
        });
    return QApplication::exec();
}
