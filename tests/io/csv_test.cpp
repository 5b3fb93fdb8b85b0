// Tables as text: what is written reads back, and what spreadsheets write is read.
#include "io/csv.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>
#include <sstream>

namespace csv_test {

class CsvTest : public QObject {
    Q_OBJECT
    static std::vector<io::CsvRow> read(std::string_view text) {
        auto rows = io::parseCsv(text);
        if (!rows) qFatal("%s", rows.error().message.c_str());
        return *rows;
    }

  private Q_SLOTS:
    void whatIsWrittenReadsBack() {
        QVERIFY(rc::check("rows", [] {
            const auto width = *rc::gen::inRange<std::size_t>(2, 5);
            const auto cell = rc::gen::container<std::string>(rc::gen::elementOf(std::string("ab ,;\t\"\n")));
            const auto rows = *rc::gen::container<std::vector<io::CsvRow>>(rc::gen::container<io::CsvRow>(width, cell));
            std::ostringstream out;
            io::CsvWriter csv(out);
            csv.row(io::CsvRow(width, "head"));  // so that the separator is told by the first line
            for (const io::CsvRow& row : rows) csv.row(row);
            auto back = io::parseCsv(out.str());
            RC_ASSERT(back.has_value());
            back->erase(back->begin());
            RC_ASSERT(*back == rows);
        }));
    }
    void spreadsheetsAreRead() {
        QCOMPARE(read("\xEF\xBB\xBFname;x\r\nBench;1,5\r\n"),
                 (std::vector<io::CsvRow>{{"name", "x"}, {"Bench", "1,5"}}));
        QCOMPARE(read("a\tb\n1\t2"), (std::vector<io::CsvRow>{{"a", "b"}, {"1", "2"}}));
        QCOMPARE(read("a,b\n\n,\n"), (std::vector<io::CsvRow>{{"a", "b"}, {"", ""}}));
        QVERIFY(read("").empty());
    }
    void anOpenQuoteIsNamedWithItsLine() {
        const auto rows = io::parseCsv("a,b\n1,\"two\n3");
        QVERIFY(!rows && QString::fromStdString(rows.error().message).contains("line 2"));
    }
    void whatASpreadsheetWouldRunIsGuardedAndReadsBackTheSame() {
        const io::CsvRow row = {"=1+2",     "+x",  "-3.5", "-x",  "@sum", "'=a", "''+",
                                "'quoted'", "\tx", "-",    "1e5", "=",    "'"};
        std::ostringstream out;
        io::CsvWriter(out).row(row);
        const auto back = io::parseCsv(out.str());
        QVERIFY(back.has_value());
        QCOMPARE(back->front(), row);
        QVERIFY2(out.str().starts_with("'=1+2,'+x,-3.5,'-x,'@sum,''=a,"), out.str().c_str());
    }
};

MELLOW_TEST(CsvTest)
}  // namespace csv_test
#include "csv_test.moc"
