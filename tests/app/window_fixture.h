#pragma once
// The real window on a copy of the demo, with settings of its own: what tests that drive it share.
#include <QAbstractButton>
#include <QLineEdit>
#include <QMimeData>
#include <QtTest>

#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QFrame>
#include <QLabel>
#include <QToolButton>
#include "app/dialogs/progress_card.h"
#include "app/kit/number_field.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/find_field.h"
#include "app/panels/history_strip.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/preferences.h"
#include "app/shell/scripts.h"
#include "app/shell/sight.h"
#include "app/view/panes.h"
#include "edit/session.h"
#include "io/scene_file.h"
#include "io/workspace.h"
#include "support/settle.h"
#include "support/test_project.h"

using model::kNoSlot;
using model::Slot;

class WindowFixture : public QObject {
  protected:
    QTemporaryDir settings_;
    std::unique_ptr<test::DemoCopy> demo_;
    std::unique_ptr<app::Editor> editor_;
    std::unique_ptr<app::MainWindow> window_;

    void openWindow() {
        // The same ids in every run, and others in each window; MELLOW_TEST_SEED: others altogether.
        static std::uint64_t opened = qEnvironmentVariableIntValue("MELLOW_TEST_SEED") * std::uint64_t{1000} + 7;
        editor_ = std::make_unique<app::Editor>(test::chance(opened++));
        window_ = std::make_unique<app::MainWindow>(*editor_);
        window_->resize(1280, 800);
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        QVERIFY(window_->openProject(QString::fromStdString(demo_->folder().string()), io::OpenMode::Edit));
        QTRY_VERIFY(editor_->sight().index() != nullptr);  // built on a worker: what rays meet
        app::Preferences likes = editor_->preferences();
        likes.glide = false;  // tests do not wait for the camera to arrive
        editor_->setPreferences(likes);
        test::settle();
    }
    void closeWindow() {
        window_.reset();
        editor_.reset();
    }
    app::ViewWidget& view() { return window_->view(); }
    std::string bytes() { return io::formatScene(editor_->scene()); }
    edit::Session& session() { return editor_->session(); }
    const model::Scene& scene() { return editor_->scene(); }
    template <class W>
    W* the(const char* name, QWidget* in = nullptr) {
        return (in != nullptr ? in : window_.get())->findChild<W*>(name);
    }
    void press(const char* button) { QTest::mouseClick(the<QAbstractButton>(button), Qt::LeftButton); }
    void typeInto(QLineEdit* field, const char* text) {
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        test::settle();
    }
    QLineEdit* field(const char* form, const char* property) {
        auto* box = the<QWidget>(property, the<QWidget>(form));
        auto* line = qobject_cast<QLineEdit*>(box);
        return line != nullptr ? line : box->findChild<QLineEdit*>();
    }
    Slot named(const char* name) {
        for (Slot s : editor_->scene().subtree(kNoSlot))
            if (editor_->scene().nameText(s) == name) return s;
        return kNoSlot;
    }
    base::ObjectId idOf(const char* name) { return editor_->scene().id(named(name)); }
    QPoint pixelOf(Slot s) {
        const auto p = view().camera().project(editor_->scene().bounds(s).centre(), view().viewport());
        return QPoint(int(p->x), int(p->y));
    }
    QPoint pixel(const base::Vec3& at) {
        const auto p = view().camera().project(at, view().viewport());
        return {int(std::lround(p->x)), int(std::lround(p->y))};
    }
    /// Looks at level ground with nothing on it, from the south; gives the pixel of the place.
    QPoint lookAtGround(const base::Vec3& place = {-40, 0, 40}) {
        view().setCamera(render::Camera::looking(place + base::Vec3(0, 7, 9), place));
        test::settle();
        return pixel(place);
    }
    void drag(const QPoint& from, const QPoint& to, Qt::KeyboardModifiers modifiers = {}) {
        QTest::mouseMove(&view(), from);
        QTest::mousePress(&view(), Qt::LeftButton, modifiers, from);
        for (int i = 1; i <= 10; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 10);
        QTest::mouseRelease(&view(), Qt::LeftButton, modifiers, to);
    }
    /// Dragged from outside onto the view.
    void drop(QMimeData* mime, const QPoint& at) {
        QDragEnterEvent enter(at, Qt::CopyAction, mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&view(), &enter);
        QDragMoveEvent move(at, Qt::CopyAction, mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&view(), &move);
        QDropEvent drop(at, Qt::CopyAction, mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&view(), &drop);
        delete mime;
    }
    void run(const char* command) { window_->commands().action(command)->trigger(); }
    void useOwnSettings(const char* name) {
        QCoreApplication::setOrganizationName("mellow-lattice-test");
        QCoreApplication::setApplicationName(QLatin1String(name));
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings_.path());
    }
    void openFreshCopy() {
        QSettings().clear();
        demo_ = std::make_unique<test::DemoCopy>();
        openWindow();
    }
};
