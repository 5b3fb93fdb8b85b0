#include <QtTest>
#include <memory>

#include "model/column.h"
#include "support/test_main.h"

namespace column_test {

using model::Column;

class ColumnTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aCopyDoesNotSeeLaterWrites() {
        Column<int> a;
        a.grow(5000);
        for (std::size_t i = 0; i < 5000; ++i) a.edit(i) = static_cast<int>(i);
        const Column<int> snapshot = a;
        a.edit(7) = -1;
        a.edit(4999) = -2;
        QCOMPARE(snapshot[7], 7);
        QCOMPARE(snapshot[4999], 4999);
        QCOMPARE(a[7], -1);
    }
    void aWriteCopiesOnlyItsOwnChunk() {
        Column<int> a;
        a.grow(3000);
        const Column<int> snapshot = a;
        a.edit(0) = 1;
        QVERIFY(&a[1] != &snapshot[1]);
        QVERIFY(&a[2000] == &snapshot[2000]);
    }
    void growingKeepsWhatIsThere() {
        Column<std::shared_ptr<int>> a;
        a.grow(1);
        a.edit(0) = std::make_shared<int>(4);
        a.grow(2500);
        QCOMPARE(*a[0], 4);
        QVERIFY(a[2499] == nullptr);
        QCOMPARE(a.size(), std::size_t{2500});
    }
    void chunksAreFreedOnce() {
        auto value = std::make_shared<int>(1);
        {
            Column<std::shared_ptr<int>> a;
            a.grow(10);
            a.edit(3) = value;
            Column<std::shared_ptr<int>> b = a, c;
            c = b;
            b = std::move(a);
            c.edit(3) = nullptr;
        }
        QCOMPARE(value.use_count(), 1L);
    }
};

MELLOW_TEST(ColumnTest)
}  // namespace column_test
#include "column_test.moc"
