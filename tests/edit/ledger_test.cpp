#include <sqlite3.h>

#include <QTemporaryDir>
#include <QtTest>

#include "edit/ledger.h"
#include "support/test_project.h"

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
        QCOMPARE((*ledger)->saves().at(0).hash, std::uint64_t{0xFFFFFFFFFFFFFFFFULL});
        const auto bulk = (*ledger)->load(4, names_);
        QVERIFY(bulk.has_value());
        QVERIFY(std::get<model::SetTransforms>(bulk->changes[0].changes[0]).after ==
                std::get<model::SetTransforms>(data(5000)->changes[0].changes[0]).after);
    }
    void aNewerLedgerIsNotTouched() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        QVERIFY(edit::Ledger::open(file, false).has_value());
        sql(file, "UPDATE meta SET value='2' WHERE key='version'");
        const auto ledger = edit::Ledger::open(file, false);
        QVERIFY(!ledger);
        QVERIFY(ledger.error().code == base::ErrorCode::Unsupported);
    }
    void whatIsNoLedgerIsTold() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "ledger.db";
        test::writeBytes(file, std::string(5000, 'x'));
        const auto ledger = edit::Ledger::open(file, false);
        QVERIFY(!ledger);
        QVERIFY(ledger.error().message.find("ledger.db") != std::string::npos);
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

QTEST_APPLESS_MAIN(LedgerTest)
#include "ledger_test.moc"
