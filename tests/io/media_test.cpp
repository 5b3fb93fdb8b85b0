// Files that come into a project's folder media: once each, nothing overwritten.
#include "io/media.h"

#include <QtTest>

#include "support/test_project.h"

class MediaTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void theSameBytesAreUsedAgain() {
        test::TestProject p;
        QCOMPARE(*io::addMediaBytes(p.folder(), "notice.png", "abc"), std::string("notice.png"));
        QCOMPARE(*io::addMediaBytes(p.folder(), "notice.png", "abc"), std::string("notice.png"));
        QCOMPARE(test::fileBytes(p.folder() / "media" / "notice.png"), std::string("abc"));
    }
    void anotherFileOfThatNameGetsANumber() {
        test::TestProject p;
        QVERIFY(io::addMediaBytes(p.folder(), "notice.png", "abc"));
        QCOMPARE(*io::addMediaBytes(p.folder(), "notice.png", "xyz"), std::string("notice 2.png"));
        QCOMPARE(*io::addMediaBytes(p.folder(), "notice.png", "xyz"), std::string("notice 2.png"));
        QCOMPARE(test::fileBytes(p.folder() / "media" / "notice.png"), std::string("abc"));
    }
    void itStaysInTheFolder() {
        test::TestProject p;
        QCOMPARE(*io::addMediaBytes(p.folder(), "../../outside.png", "abc"), std::string("outside.png"));
        QVERIFY(std::filesystem::exists(p.folder() / "media" / "outside.png"));
        for (const char* name : {"", "..", "a/.."}) QVERIFY(!io::addMediaBytes(p.folder(), name, "abc"));
    }
    void whatCannotBeReadIsNamed() {
        test::TestProject p;
        const auto missing = io::addMedia(p.folder(), "/no/such/picture.png");
        QVERIFY(!missing && missing.error().message.find("picture.png") != std::string::npos);
    }
};

QTEST_GUILESS_MAIN(MediaTest)
#include "media_test.moc"
