// The scripts that are there: read, read anew, conflicts, the last good version.
#include "script/shelf.h"
#include "support/test_main.h"

#include <QtTest>

#include "support/test_project.h"

namespace shelf_test {

using script::Owner;

struct Folders {
    QTemporaryDir dir;
    std::filesystem::path project = std::filesystem::path(dir.path().toStdString()) / "scripts",
                          own = std::filesystem::path(dir.path().toStdString()) / "own";
    script::Shelf shelf;
    Folders() {
        std::filesystem::create_directories(project);
        std::filesystem::create_directories(own);
        shelf.setFolder(Owner::Project, project, "Heron Lock");
        shelf.setFolder(Owner::Personal, own, "Mine");
    }
    static void write(const std::filesystem::path& file, const std::string& text) {
        QFile out(QString::fromStdString(file.string()));
        if (!out.open(QIODevice::WriteOnly)) qFatal("cannot write");
        out.write(text.c_str());
    }
};

class ShelfTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void commandsPlainScriptsAndModulesAreToldApart() {
        Folders f;
        QVERIFY(!f.shelf.refresh());
        Folders::write(f.project / "raise.lua", "command { name = 'Raise', menu = 'Hoist/Up', run = function() end }");
        Folders::write(f.project / "plain.lua", "find()");
        Folders::write(f.project / "tools.lua", "return { twice = function(x) return 2 * x end }");
        Folders::write(f.own / "mine.lua", "local t = require('tools') find()");
        Folders::write(f.project / "notes.txt", "no script");
        QVERIFY(f.shelf.refresh());
        QCOMPARE(f.shelf.scripts().size(), std::size_t{4});
        std::vector<std::string> offered;
        for (const auto& offer : f.shelf.offers()) offered.push_back(offer.menu + "/" + offer.spec.name);
        QCOMPARE(offered, (std::vector<std::string>{"Heron Lock/plain", "Hoist/Up/Raise"}));
        // A personal script does not see the project's modules: it says so where it asks.
        const auto* mine = f.shelf.script(f.own / "mine.lua");
        QVERIFY(mine->problem.find("mine.lua:1:") != std::string::npos);
        QVERIFY(mine->problem.find("no module") != std::string::npos);
        QVERIFY(!f.shelf.refresh());  // nothing has changed
    }
    void aBrokenFileKeepsItsLastGoodVersion() {
        Folders f;
        Folders::write(f.project / "a.lua", "command { name = 'A', run = function() say('good') end }");
        f.shelf.refresh();
        Folders::write(f.project / "a.lua", "\n\ncommand { name = 'A', run = }");
        QVERIFY(f.shelf.refresh());
        const script::Script& a = f.shelf.scripts()[0];
        QVERIFY(a.problem.find("a.lua:3:") != std::string::npos);
        QCOMPARE(a.problemLine, 3);
        QCOMPARE(f.shelf.offers().size(), std::size_t{1});
        QVERIFY(a.text.find("good") != std::string::npos);
        Folders::write(f.project / "a.lua", "command { name = 'B', run = function() end }");
        f.shelf.refresh();
        QVERIFY(f.shelf.scripts()[0].problem.empty());
        QCOMPARE(f.shelf.offers()[0].spec.name, std::string("B"));
        std::filesystem::remove(f.project / "a.lua");
        QVERIFY(f.shelf.refresh());
        QVERIFY(f.shelf.offers().empty());
    }
    void conflictsNameBothFiles() {
        Folders f;
        Folders::write(f.project / "a.lua",
                       "command { name = 'A', menu = 'M', shortcut = 'Alt+1', run = function() end }");
        Folders::write(f.own / "b.lua",
                       "command { name = 'A', menu = 'M', run = function() end } "
                       "command { name = 'C', shortcut = 'Alt+1', run = function() end }");
        f.shelf.refresh();
        QCOMPARE(f.shelf.conflicts().size(), std::size_t{2});
        for (const std::string& conflict : f.shelf.conflicts())
            QVERIFY(conflict.find("a.lua") != std::string::npos && conflict.find("b.lua") != std::string::npos);
        QCOMPARE(f.shelf.offers().size(), std::size_t{2});
        QVERIFY(f.shelf.offers()[1].spec.shortcut.empty());
    }
    void aFileThatNeverEndsIsAProblemAndNothingElse() {
        Folders f;
        Folders::write(f.project / "loop.lua", "while true do end");
        f.shelf.refresh();
        QVERIFY(f.shelf.scripts()[0].problem.find("too long") != std::string::npos);
    }
};

MELLOW_TEST(ShelfTest)
}  // namespace shelf_test
#include "shelf_test.moc"
