// Files that come into a project's folder media: once each, nothing overwritten, as part of a step.
#include "io/media.h"
#include "support/test_main.h"

#include <QtTest>

#include "io/added.h"
#include "support/test_project.h"

namespace media_test {

class MediaTest : public QObject {
    Q_OBJECT
    static std::string add(test::TestProject& p, const std::string& name, const std::string& bytes) {
        edit::Draft draft(p.session(), "first", "Image");
        auto added = io::addMedia(draft, name, bytes);
        if (!added) return "refused";
        return draft.commit() ? *added : "refused";
    }
    static std::string bytesOf(test::TestProject& p, const std::string& name) {
        const auto file = io::projectFile(p.folder(), "media/" + name);
        return file ? test::fileBytes(*file) : "missing";
    }
    static bool save(test::TestProject& p) {
        return io::saveScene(p.workspace(), std::string(model::data::kAdded)).has_value();
    }
  private Q_SLOTS:
    void theSameBytesAreUsedAgain() {
        test::TestProject p;
        QCOMPARE(add(p, "notice.png", "abc"), std::string("notice.png"));
        QCOMPARE(add(p, "notice.png", "abc"), std::string("notice.png"));
        QCOMPARE(bytesOf(p, "notice.png"), std::string("abc"));
        QVERIFY(save(p));
        QCOMPARE(add(p, "notice.png", "abc"), std::string("notice.png"));
        QCOMPARE(test::fileBytes(p.folder() / "media" / "notice.png"), std::string("abc"));
    }
    void anotherFileOfThatNameGetsANumber() {
        test::TestProject p;
        add(p, "notice.png", "abc");
        QCOMPARE(add(p, "notice.png", "xyz"), std::string("notice 2.png"));
        QCOMPARE(add(p, "notice.png", "xyz"), std::string("notice 2.png"));
        QCOMPARE(bytesOf(p, "notice.png"), std::string("abc"));
    }
    void undoneAndSavedItIsGone() {
        test::TestProject p;
        add(p, "notice.png", "abc");
        QVERIFY(save(p));
        const auto file = p.folder() / "media" / "notice.png";
        QVERIFY(std::filesystem::exists(file));
        QVERIFY(p.session().undo().has_value());
        QVERIFY(io::mediaNames(p.session()).empty());
        QVERIFY(save(p));
        QVERIFY(!std::filesystem::exists(file));
        QVERIFY(p.session().redo().has_value());
        QCOMPARE(io::mediaNames(p.session()).count("notice.png"), std::size_t{1});
        QVERIFY(save(p));
        QCOMPARE(test::fileBytes(file), std::string("abc"));
    }
    void whatOthersMadeOfTheFileStays() {
        test::TestProject p;
        add(p, "notice.png", "abc");
        QVERIFY(save(p));
        test::writeBytes(p.folder() / "media" / "notice.png", "theirs");
        QVERIFY(p.session().undo().has_value());
        QVERIFY(save(p));
        QCOMPARE(test::fileBytes(p.folder() / "media" / "notice.png"), std::string("theirs"));
    }
    void itStaysInTheFolder() {
        test::TestProject p;
        QCOMPARE(add(p, "../../outside.png", "abc"), std::string("outside.png"));
        for (const char* name : {"", "..", "a/..", ".hidden", "a\nb.png"})
            QCOMPARE(add(p, name, "abc"), std::string("refused"));
    }
};

MELLOW_TEST(MediaTest)
}  // namespace media_test
#include "media_test.moc"
