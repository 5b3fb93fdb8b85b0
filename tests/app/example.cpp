// mellow-example PROJECT PICTURE: the whole first example without a screen: opens a copy of the demo project, does to
// the real window what a designer would, says each thing, and writes a picture of the window.
#include <QApplication>
#include <QDateTime>
#include <QtTest>
#include <cstdio>

#include "app/view/stage.h"
#include "app/walkthrough.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "support/test_project.h"

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setStyle("Fusion");
    QApplication::setOrganizationName("mellow-lattice");
    QApplication::setApplicationName("mellow-example");
    if (argc != 3) {
        std::fprintf(stderr, "usage: mellow-example PROJECT PICTURE\n");
        return 2;
    }
    bool fine = true;
    auto tell = [](const QString& text) { std::printf("  %s\n", qPrintable(text)); };
    auto check = [&](bool done, const char* what) {
        if (!done) std::printf("  FAILED: %s\n", what);
        fine = fine && done;
    };
    const std::filesystem::path project(argv[1]);
    std::string saved;
    for (const bool again : {false, true}) {
        app::Editor editor({[] { return QDateTime::currentMSecsSinceEpoch(); },
                            static_cast<std::uint64_t>(QDateTime::currentMSecsSinceEpoch())});
        app::MainWindow window(editor);
        window.resize(1280, 800);
        window.show();
        (void)QTest::qWaitForWindowExposed(&window);
        check(window.openProject(argv[1], io::OpenMode::Edit), "open the project");
        if (!fine) return 1;
        tell(QString("%1 %2: scene %3, %4 objects")
                 .arg(again ? "reopened" : "opened", QString::fromStdString(editor.session().project().name),
                      QString::fromStdString(editor.sceneName()))
                 .arg(editor.scene().objectCount()));
        test::Walkthrough walk(window, editor, tell);
        if (again) {
            check(editor.session().history().undoTarget().has_value(), "undo after reopening");
            tell(QString("the history is still there: %1 steps").arg(editor.session().history().steps().size()));
            editor.select({});
            window.view().setFocus();
            check(QTest::qWaitFor([&] { return window.findChild<app::Stage*>()->isShaded(); }, 60'000),
                  "wait for the soft shading");
            const bool written = window.grab().save(argv[2]);
            check(written, "write the picture");
            tell(QString("picture of the window: %1").arg(argv[2]));
            break;
        }
        check(walk.fetchByTyping(), "fetch by typing");
        check(walk.dragIntoView(), "drag into the view");
        check(walk.dragHandle(), "drag the handle");
        check(walk.typeValue(), "type a value");
        check(walk.undoAll(), "undo");
        check(walk.redoAll(), "redo");
        check(walk.save(), "save");
    }
    std::printf(fine ? "Everything worked.\n" : "Something did not work; see above.\n");
    return fine ? 0 : 1;
}
