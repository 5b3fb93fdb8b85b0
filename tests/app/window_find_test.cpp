// What is looked for is found: in the menus, by other words, with a letter wrong; and what is off says why.
#include <QListWidget>
#include <QMenuBar>

#include "app/commands/find_words.h"
#include "app/dialogs/manual_window.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "support/test_main.h"

namespace window_find_test {

class WindowFindTest : public WindowFixture {
    Q_OBJECT
    QLineEdit* find() { return window_->findChild<QLineEdit*>("find"); }
    QListWidget* results() { return window_->findChild<QListWidget*>("findResults"); }
    void look(const char* text) {
        run("help.find");
        QCOMPARE(window_->focusWidget(), find());
        find()->selectAll();
        QTest::keyClicks(find(), text);
    }
    QStringList found() {
        QStringList texts;
        for (int i = 0; i < results()->count(); ++i) texts << results()->item(i)->text();
        return texts;
    }
    static void collect(QMenu* menu, QSet<QString>& ids, int& longest, QString& which) {
        int rows = 0;
        for (QAction* action : menu->actions()) {
            if (action->isSeparator()) continue;
            ++rows;
            if (action->menu() != nullptr) collect(action->menu(), ids, longest, which);
            ids.insert(action->objectName());
        }
        if (rows > longest) longest = rows, which = menu->title();
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-find-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void everyCommandIsInAMenuAndNoMenuIsLong() {
        QSet<QString> ids;
        int longest = 0;
        QString which;
        for (QAction* top : window_->menuWidget()->findChild<QMenuBar*>("menus")->actions())
            collect(top->menu(), ids, longest, which);
        QVERIFY2(longest <= 15, qPrintable(which + QString(" has %1 rows").arg(longest)));
        QStringList missing;
        for (const app::Command& command : window_->commands().all())
            if (!ids.contains(command.id) && !command.id.startsWith("script.")) missing << command.id;
        QVERIFY2(missing.isEmpty(), qPrintable(missing.join(' ')));
        for (const app::Command& command : window_->commands().all())
            QVERIFY2(!command.tip.isEmpty(), qPrintable(command.id));
    }
    void rowsOfAMenuHaveLettersOfTheirOwn() {
        for (QAction* top : window_->menuWidget()->findChild<QMenuBar*>("menus")->actions()) {
            QSet<QChar> letters;
            int without = 0;
            for (QAction* row : top->menu()->actions()) {
                if (row->isSeparator()) continue;
                const auto at = row->text().indexOf('&');
                if (at < 0) {
                    ++without;
                    continue;
                }
                const QChar letter = row->text()[at + 1].toLower();
                QVERIFY2(!letters.contains(letter), qPrintable(top->text() + ": " + row->text()));
                letters.insert(letter);
            }
            QVERIFY2(without <= 2, qPrintable(top->text()));
        }
    }
    void theTradesWordsFindWhatIsCalledOtherwise_data() {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("wanted");
        const std::pair<const char*, const char*> rows[] = {{"rotate", "Turn"},
                                                            {"scale", "Size"},
                                                            {"snap", "Move in steps"},
                                                            {"lock", "Protect"},
                                                            {"duplicate", "Duplicate"},
                                                            {"align", "Align tops"},
                                                            {"grid", "Grid of copies"},
                                                            {"validate", "Check all"},
                                                            {"history", "Undo"},
                                                            {"settings", "Keys"},
                                                            {"shortcuts", "Keys"},
                                                            {"units", "Move in steps"},
                                                            {"clone", "Linked copy"},
                                                            {"gizmo", "All handles"},
                                                            {"isolate", "Show alone"},
                                                            {"trigger", "zone"},
                                                            {"instance", "Make a prefab"},
                                                            {"hierarchy", "Roster"},
                                                            {"material", "Surfaces"},
                                                            {"spreadsheet", "Table"}};
        for (const auto& [typed, wanted] : rows) QTest::newRow(typed) << typed << wanted;
    }
    void theTradesWordsFindWhatIsCalledOtherwise() {
        QFETCH(QString, typed);
        QFETCH(QString, wanted);
        look(qPrintable(typed));
        QVERIFY2(!found().filter(wanted).isEmpty(), qPrintable(found().join("; ")));
    }
    void aWrongLetterStillFinds() {
        for (const auto& [typed, wanted] : {std::pair{"meausre", "Measure"},
                                            {"protct", "Protect"},
                                            {"prefap", "prefab"},
                                            {"duplicatte", "Duplicate"},
                                            {"Bollrad", "Bollard"}}) {
            look(typed);
            QVERIFY2(!found().filter(QLatin1String(wanted), Qt::CaseInsensitive).isEmpty(),
                     qPrintable(QString(typed) + ": " + found().join("; ")));
        }
        QVERIFY(app::isNearly("Measure", "meausre"));
        QVERIFY(!app::isNearly("Measure", "treasure box"));
        QVERIFY(!app::isNearly("Undo", "redo"));
    }
    void theBestComesFirstAndWhatWasChosenLatelyOnTop() {
        look("mirror left");
        QVERIFY(results()->item(0)->text().startsWith("Mirror left"));
        look("copies");
        const QString first = found().value(0);
        look("Table");
        QVERIFY2(results()->item(0)->text().startsWith("Table"), qPrintable(found().join("; ")));
        QTest::keyClick(find(), Qt::Key_Return);
        QVERIFY(window_->focusWidget() != find());
        run("help.find");
        QVERIFY2(found().value(0).startsWith("Table"), qPrintable(found().join("; ")));
    }
    void whatWasLookedForGoesWhenOneLooksElsewhere() {
        window_->activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(window_.get()));
        for (const bool byKey : {true, false}) {
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_F, Qt::ControlModifier);
            QTRY_COMPARE(QApplication::focusWidget(), static_cast<QWidget*>(find()));
            QTest::keyClicks(find(), "wall");
            QVERIFY(!found().isEmpty());
            if (byKey)
                QTest::keyClick(find(), Qt::Key_Escape);
            else
                QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(300, 300));
            QTRY_COMPARE(QApplication::focusWidget(), static_cast<QWidget*>(&view()));
            QVERIFY(find()->text().isEmpty() && !results()->isVisible());
        }
    }
    void whatIsOffIsShownAndSaysWhatItNeeds() {
        editor_->select({});
        look("align tops");
        QCOMPARE(results()->item(0)->flags() & Qt::ItemIsEnabled, Qt::ItemFlags());
        QVERIFY2(found()[0].contains("needs a selection"), qPrintable(found()[0]));
        QTest::keyClick(find(), Qt::Key_Return);  // does nothing
        QVERIFY(editor_->session().history().steps().empty() ||
                editor_->session().history().undoTarget() == std::nullopt);
        QTest::keyClick(find(), Qt::Key_Escape);
        QAction* tops = window_->commands().action("arrange.tops");
        for (QObject* holder : tops->associatedObjects())
            if (auto* menu = qobject_cast<QMenu*>(holder)) {
                menu->popup({200, 200});
                QVERIFY(tops->toolTip().contains("needs a selection"));
                menu->hide();
            }
        editor_->select({idOf("Bollard 1"), idOf("Bollard 2")});
        look("align tops");
        QVERIFY((results()->item(0)->flags() & Qt::ItemIsEnabled) != 0);
    }
    void theManualIsReadAndSearchedInTheWindow() {
        run("help.firstSteps");
        auto* manual = window_->findChild<app::ManualWindow*>();
        QVERIFY(manual != nullptr);
        auto* text = manual->findChild<QTextBrowser*>("manualText");
        QVERIFY(text->toPlainText().startsWith("First steps"));
        auto* search = manual->findChild<QLineEdit*>("manualSearch");
        QTest::keyClicks(search, "broom");
        auto* list = manual->findChild<QTreeWidget*>("manualList");
        QVERIFY(list->topLevelItemCount() > 1);
        QCOMPARE(list->topLevelItem(0)->text(0), QString("The broom"));  // the heading that says it comes first
        QTest::keyClick(search, Qt::Key_Return);
        QVERIFY(text->toPlainText().contains("Alt+B takes the broom"));
        QVERIFY(!text->textCursor().selectedText().isEmpty());
        run("help.about");
        QCOMPARE(window_->findChildren<app::ManualWindow*>().size(), 1);
        QVERIFY(text->toPlainText().contains("LGPL"));
    }
};

MELLOW_TEST(WindowFindTest)
}  // namespace window_find_test
#include "window_find_test.moc"
