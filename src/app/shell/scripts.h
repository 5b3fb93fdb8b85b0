#pragma once
// Scripts as the interface sees them: which there are, whether a project's may be used, running and previewing one,
// and what they draw over the view.
#include <QFileSystemWatcher>
#include <QObject>
#include <QString>
#include <QTimer>
#include <optional>

#include "app/view/piece.h"
#include "script/behaviours.h"
#include "script/difference.h"
#include "script/shelf.h"

namespace app {

class Editor;

/// What a run would do, without having done it.
struct ScriptPreview {
    QString name;
    struct Row {
        std::string scene;
        script::Difference difference;
    };
    std::vector<Row> rows;
    std::vector<Piece> ghosts;                            ///< what would come, or stand elsewhere, in the scene shown
    std::vector<base::Aabb> gone;                         ///< what would go
    std::vector<std::pair<base::Vec3, base::Vec3>> ways;  ///< from where it is to where it would be
    std::size_t created = 0, changed = 0, removed = 0;
    double milliseconds = 0;
};

/// One run that is to be made.
struct ScriptJob {
    QString name;  ///< the step's
    script::Source source;
    QString command;  ///< of its commands; empty: the only one, or all of a plain one
    model::ValueMap form;
    std::vector<std::string> scenes;  ///< empty: the one shown
    /// Done instead of a script.
    std::function<base::Status(edit::Draft&)> verb;
};

class Scripts : public QObject {
    Q_OBJECT
  public:
    explicit Scripts(Editor& editor);
    ~Scripts() override;

    const script::Shelf& shelf() const { return shelf_; }
    script::Behaviours& behaviours() { return behaviours_; }
    /// Where one's own lie, for all projects; made when something is put there.
    std::filesystem::path personalFolder() const;
    std::filesystem::path projectFolder() const;
    /// A project was opened, or closed.
    void takeProject();
    /// Looks at the files.
    void refresh();

    /// The project brings scripts, and nobody has said yet whether they may be used here.
    bool isTrusted() const { return trusted_; }
    bool asksTrust() const { return asksTrust_; }
    /// They did not come to an end the last time they were used: they are left alone until somebody says otherwise.
    bool hungLastTime() const { return hung_; }
    /// How many there are.
    std::size_t untrusted() const;
    void answerTrust(bool use);
    /// They have run for a while, or the project is being left: keeps that they may be used, unless one was stopped.
    void endTrial();
    /// A project made here needs no question.
    static void trustFolder(const std::filesystem::path& project);
    static QStringList trustedFolders();
    /// It is asked about again.
    static void forgetTrust(const QString& folder);

    /// Over this widget a long run shows how far it has come.
    /// One step, or nothing. What came of it is told by ran().
    bool run(const ScriptJob& job);
    bool showPreview(const ScriptJob& job);
    /// The same of a verb.
    bool previewVerb(const QString& name, std::function<base::Status(edit::Draft&)> verb);
    const std::optional<ScriptPreview>& preview() const { return preview_; }
    /// Does what was shown.
    void acceptPreview();
    void dropPreview();
    bool canRepeat() const { return last_.has_value(); }
    void repeat();
    void previewEverywhere();

    ScriptJob jobOf(const script::Offer& offer, model::ValueMap form) const;
    /// Can it be run now?
    bool isEnabled(const script::Offer& offer);
    /// What its form held when it was last run; defaults at first.
    model::ValueMap formOf(const script::Offer& offer) const;
    void keepForm(const script::Offer& offer, const model::ValueMap& form);
    /// What a command draws while its form is open. A failure is told by ran().
    void drawForm(const script::Offer& offer, const model::ValueMap& form);

    /// Drawn over the view: by the last run, by an open form.
    const std::vector<script::Mark>& marks() const { return marks_; }
    void clearMarks();

  Q_SIGNALS:
    void shelfChanged();
    void ran(const ScriptJob& job, const script::Outcome& outcome);
    void previewChanged();
    void marksChanged();
    /// Behaviours are others now: looks have to be asked for anew.
    void behavioursChanged();

  private:
    void beginTrial();
    bool work(const ScriptJob& job, bool keep);
    script::Settings settingsFor(const ScriptJob& job);
    void watch();
    void openedScene();

    Editor& editor_;
    script::Shelf shelf_;
    script::Behaviours behaviours_;
    QFileSystemWatcher watcher_;
    QTimer settle_;  // files are often written in several goes
    bool asksTrust_ = false, trusted_ = false;
    bool hung_ = false;
    bool onTrial_ = false;  // until they have run without being stopped it is not kept that they may be used
    bool stopped_ = false;  // one was, since they were let run
    QTimer trial_;
    std::optional<ScriptPreview> preview_;
    std::optional<ScriptJob> last_, previewed_;
    std::vector<script::Mark> marks_;
    bool working_ = false;
};

}  // namespace app
