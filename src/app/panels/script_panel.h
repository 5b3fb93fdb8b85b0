#pragma once
// The desk's page for scripts: the text at the left; at the right what a run said, or what a preview would do; a line
// to try things in below.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QToolButton>

#include "app/panels/lua_editor.h"
#include "app/shell/scripts.h"

namespace app {

class TheirsBar;

class ScriptPanel : public QWidget {
    Q_OBJECT
  public:
    ScriptPanel(Editor& editor, Scripts& scripts, QWidget* parent = nullptr);

    void open(const std::filesystem::path& file, int line = 0);
    /// A new, unsaved text of a template: "plain", "command", "panel", "behaviour".
    void begin(const QString& sort);
    bool save();
    void runAll(bool keep);
    void runSelection();
    void focusConsole();
    /// Lines for the cursor's place, made of the selected object.
    void fillSnippets(QMenu* menu);
    /// Is something typed that is not in its file?
    bool isChanged() const { return editor_->isChanged(); }

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    QWidget* makeBar();
    QWidget* makeTalk();
    QWidget* makePreview();
    void listen();
    void refreshFiles();
    void refreshTitle();
    void refreshPreview();
    void showRan(const ScriptJob& job, const script::Outcome& outcome);
    void console();
    void showProblem();
    std::optional<QString> theirs() const;
    void refreshTheirs();
    void keepMine();
    bool mayLeave();
    ScriptJob jobOf(const QString& text) const;
    QString fileName() const;

    Editor& app_;
    Scripts& scripts_;
    std::filesystem::path file_;  // empty: not saved yet
    QString stem_;                // what an unsaved one would be called
    QString onDisk_;              // what the file said when it was read
    LuaEditor* editor_;
    TheirsBar* theirsBar_;
    QComboBox* files_;
    QToolButton *new_, *save_, *run_, *runSelection_, *preview_, *insert_;
    QLabel* state_;
    QStackedWidget* right_;
    QPlainTextEdit* output_;
    QLabel* previewTitle_;
    QTableWidget* table_;
    QLineEdit* console_;
    QStringList history_;
    int historyAt_ = 0;
};

}  // namespace app
