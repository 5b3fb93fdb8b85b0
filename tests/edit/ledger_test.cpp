#include <sqlite3.h>

#include <QTemporaryDir>
#include <QtTest>

#include "edit/ledger.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace ledger_test {

namespace fs = std::filesystem;

class LedgerTest : public QObject {
    Q_OBJECT
    base::NameTable names_;

    static std::shared_ptr<edit::StepData> data(std::size_t rows) {
        base::Random random(rows);
        model::SetTransforms move;
        for (std::size_t i = 0; i < rows; ++i) {
            move.ids.push_back(random.nextId());
            move.before.emplace_back();
            move.after.push_back({{random.unit(), 0, 0}});
        }
        auto d = std::make_shared<edit::StepData>();
        d->changes.push_back({"s", {move}});
        return d;
    }
    edit::StepInfo info(edit::History& h, std::size_t rows) {
        edit::StepInfo i;
        i.id = h.nextId();
        i.parent = h.present();
        i.name = "Move";
        i.scenes = {"s"};
        i.rows = rows;
        h.append(i);
        return i;
    }
    static void sql(const fs::path& file, const char* text) {
        sqlite3* db = nullptr;
        sqlite3_open(file.c_str(), &db);
        QCOMPARE(sqlite3_exec(db, text, nullptr, nullptr, nullptr), SQLITE_OK);
        sqlite3_close(db);
    }

  private Q_SLOTS:
    void stepsBranchesAndSavesSurviveReopening() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        {
            auto ledger = edit::Ledger::open(file, false);
            QVERIFY(ledger.has_value());
            edit::History h;
            for (int i = 0; i < 3; ++i) {
                const auto step = info(h, 2);
                QVERIFY((*ledger)->append(step, data(2), names_).has_value());
            }
            h.moveTo(1);
            QVERIFY((*ledger)->setPresent(h).has_value());
            const auto branch = info(h, 5000);  // bulk: goes through the worker
            QVERIFY((*ledger)->append(branch, data(5000), names_).has_value());
            QVERIFY((*ledger)->addSave({"s", 4, 0xFFFFFFFFFFFFFFFFULL, 99, 5}).has_value());
        }
        auto ledger = edit::Ledger::open(file, false);
        QVERIFY(ledger.has_value());
        const auto h = (*ledger)->history();
        QVERIFY(h.has_value());
        QCOMPARE(h->steps().size(), std::size_t{4});
        QCOMPARE(h->present(), edit::StepId{4});
        QCOMPARE(h->step(4)->parent, edit::StepId{1});
        QCOMPARE((*ledger)->saves()->at(0).hash, std::uint64_t{0xFFFFFFFFFFFFFFFFULL});
        const auto bulk = (*ledger)->load(4, names_);
        QVERIFY(bulk.has_value());
        QVERIFY(std::get<model::SetTransforms>(bulk->changes[0].changes[0]).after ==
                std::get<model::SetTransforms>(data(5000)->changes[0].changes[0]).after);
    }
    void aBrokenPageIsAnErrorAndNeverAShorterHistory() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        constexpr std::size_t kSteps = 400;
        {
            auto ledger = edit::Ledger::open(file, false);
            edit::History h;
            for (std::size_t i = 0; i < kSteps; ++i) {
                if (i % 3 == 2) h.moveTo(h.present() - 1), (void)(*ledger)->setPresent(h);
                QVERIFY((*ledger)->append(info(h, 2), data(2), names_).has_value());
            }
            for (int i = 0; i < 60; ++i) QVERIFY((*ledger)->addSave({"s", 4, std::uint64_t(i + 1), 99, 5}).has_value());
            QVERIFY((*ledger)->flush().has_value());
        }
        sql(file, "PRAGMA journal_mode=DELETE");
        const std::string whole = test::fileBytes(file);
        constexpr std::size_t kPage = 4096;
        int refused = 0;
        for (std::size_t page = 1; page < whole.size() / kPage; ++page) {
            std::string broken = whole;
            for (std::size_t i = 0; i < kPage; ++i) broken[page * kPage + i] = '\xa5';
            test::writeBytes(file, broken);
            auto ledger = edit::Ledger::open(file, true);
            const auto history = ledger ? (*ledger)->history() : tl::unexpected(ledger.error());
            const auto saves = ledger ? (*ledger)->saves() : tl::unexpected(ledger.error());
            refused += history && saves ? 0 : 1;
            if (history) QCOMPARE(history->steps().size(), kSteps);
            if (saves) QCOMPARE(saves->size(), std::size_t{60});
            for (std::size_t i = 1; history && i < kSteps; i += 7) (void)(*ledger)->load(edit::StepId(i), names_);
        }
        QVERIFY(refused > 3);
    }
    void aNewerLedgerIsNotTouched() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        QVERIFY(edit::Ledger::open(file, false).has_value());
        sql(file, "UPDATE meta SET value='99' WHERE key='version'");
        const auto ledger = edit::Ledger::open(file, false);
        QVERIFY(!ledger);
        QVERIFY(ledger.error().code == base::ErrorCode::BadLedger);
    }
    void whatIsNoLedgerIsTold() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        test::writeBytes(file, std::string(5000, 'x'));
        const auto ledger = edit::Ledger::open(file, false);
        QVERIFY(!ledger);
        QVERIFY(ledger.error().message.find("ledger.db") != std::string::npos);
    }
    void oneWhoseMakingWasCutIsMadeAnew() {
        for (const char* left : {"", "PRAGMA journal_mode=WAL; CREATE TABLE x(y); DROP TABLE x"}) {
            QTemporaryDir folder;
            const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
            test::writeBytes(file, "");
            if (*left != '\0') sql(file, left);
            QVERIFY((*edit::Ledger::open(file, true))->history()->steps().empty());
            auto ledger = edit::Ledger::open(file, false);
            QVERIFY(ledger.has_value());
            edit::History h;
            QVERIFY((*ledger)->append(info(h, 2), data(2), names_).has_value());
        }
    }
    void aForeignDatabaseIsNotTouched() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        sql(file, "CREATE TABLE recipes(soup TEXT)");
        const std::string before = test::fileBytes(file);
        QCOMPARE(edit::Ledger::open(file, false).error().code, base::ErrorCode::BadLedger);
        QCOMPARE(test::fileBytes(file), before);
    }
    void oneOfVersionOneIsReadAndBroughtUpToDate() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        sql(file, R"(CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
            CREATE TABLE steps(id INTEGER PRIMARY KEY, parent INTEGER NOT NULL, name TEXT NOT NULL, scene TEXT NOT NULL,
                time INTEGER NOT NULL, row_count INTEGER NOT NULL, barrier INTEGER NOT NULL, payload BLOB NOT NULL);
            CREATE TABLE redo(step INTEGER PRIMARY KEY, child INTEGER NOT NULL);
            CREATE TABLE saves(id INTEGER PRIMARY KEY, scene TEXT NOT NULL, step INTEGER NOT NULL, hash INTEGER NOT NULL,
                size INTEGER NOT NULL, time INTEGER NOT NULL);
            INSERT INTO meta VALUES('format','mellow-ledger'),('version','1'),('present','1');
            INSERT INTO steps VALUES(1,0,'Move','s',5,1,0,x'0008000000000000');
            INSERT INTO redo VALUES(0,1); INSERT INTO saves VALUES(NULL,'s',1,7,8,9))");
        for (const bool readOnly : {true, false, true}) {
            auto ledger = edit::Ledger::open(file, readOnly);
            QVERIFY2(ledger.has_value(), ledger ? "" : ledger.error().message.c_str());
            QCOMPARE((*ledger)->history()->steps().size(), std::size_t{1});
            QVERIFY(!(*ledger)->history()->step(1)->damaged);
            QCOMPARE((*ledger)->saves()->at(0).hash, std::uint64_t{7});
            QVERIFY((*ledger)->saves()->at(0).placed);
        }
        auto ledger = edit::Ledger::open(file, false);
        edit::History h = *(*ledger)->history();
        QVERIFY((*ledger)->append(info(h, 2), data(2), names_).has_value());
    }
    void aFullDiskWhileItIsMadeLocksNobodyOut() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        {
            const test::FullDisk full;
            QVERIFY(!edit::Ledger::open(file, false));
        }
        QVERIFY(edit::Ledger::open(file, false).has_value());
    }
    void everyChangedRecordIsNoticed() {
        const char* changes[] = {
            "UPDATE steps SET name='Mowe' WHERE id=2",     "UPDATE steps SET parent=0 WHERE id=3",
            "UPDATE steps SET scene='t' WHERE id=2",       "UPDATE steps SET barrier=1 WHERE id=2",
            "UPDATE steps SET scene='../../x' WHERE id=2", "UPDATE steps SET name=x'ff' WHERE id=2"};
        for (const char* change : changes) {
            QTemporaryDir folder;
            const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
            {
                auto ledger = edit::Ledger::open(file, false);
                edit::History h;
                for (int i = 0; i < 3; ++i) QVERIFY((*ledger)->append(info(h, 2), data(2), names_).has_value());
            }
            sql(file, change);
            const auto h = (*edit::Ledger::open(file, false))->history();
            QVERIFY(h.has_value());
            const auto damaged = std::count_if(h->steps().begin(), h->steps().end(), [](auto& s) { return s.damaged; });
            QVERIFY2(damaged == 1, change);
        }
    }
    void aPresentThatWasChangedIsDamage() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        {
            auto ledger = edit::Ledger::open(file, false);
            edit::History h;
            for (int i = 0; i < 3; ++i) QVERIFY((*ledger)->append(info(h, 2), data(2), names_).has_value());
            QVERIFY((*ledger)->addSave({"s", 2, 5, 6, 7}).has_value());
        }
        sql(file, "UPDATE meta SET value='2' WHERE key='present'; UPDATE saves SET step=1");
        auto ledger = edit::Ledger::open(file, false);
        QCOMPARE((*ledger)->history().error().code, base::ErrorCode::BadLedger);
        QVERIFY((*ledger)->saves()->empty());
    }
    void aLedgerThatIsALinkIsRefused() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        const fs::path other = fs::path(folder.path().toStdString()) / "other.db";
        test::writeBytes(other, "");
        fs::create_symlink(other, file);
        QCOMPARE(edit::Ledger::open(file, false).error().code, base::ErrorCode::BadLedger);
        QCOMPARE(fs::file_size(other), std::uintmax_t{0});
    }
    void aDamagedStepIsNamedAndTheRestStays() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        {
            auto ledger = edit::Ledger::open(file, false);
            edit::History h;
            for (int i = 0; i < 2; ++i) {
                const auto step = info(h, 2);
                QVERIFY((*ledger)->append(step, data(2), names_).has_value());
            }
        }
        sql(file, "UPDATE steps SET payload=x'00ff' WHERE id=2");
        auto ledger = edit::Ledger::open(file, false);
        const auto broken = (*ledger)->load(2, names_);
        QVERIFY(!broken);
        QVERIFY(broken.error().message.find("step 2") != std::string::npos);
        QVERIFY((*ledger)->load(1, names_).has_value());
    }
    void readOnlyMakesNothing() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        auto ledger = edit::Ledger::open(file, true);
        QVERIFY(ledger.has_value());
        QVERIFY((*ledger)->history()->steps().empty());
        edit::History h;
        QVERIFY(!(*ledger)->append(info(h, 1), data(1), names_));
        QVERIFY(!fs::exists(file));
    }
};

MELLOW_TEST(LedgerTest)
}  // namespace ledger_test
#include "ledger_test.moc"
