#pragma once
// A recipe and, beside it, what it makes of the scene that is shown: always up to date, the lines of what is selected
// lit; a click on a line selects what it tells of. Receivers are written here, too.
#include <QComboBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QWidget>
#include <memory>

#include "app/shell/editor.h"
#include "hand/write.h"

namespace app {

class RecipePage : public QWidget {
    Q_OBJECT
  public:
    explicit RecipePage(Editor& editor, QWidget* parent = nullptr);
    /// The one that is shown, by name; empty: none.
    const std::string& recipe() const { return name_; }
    void show(const std::string& name, bool isReceiver = false);
    /// One that is given the recipe that is shown.
    void addReceiver();
    /// One of hand::examples() becomes a recipe of the project, as a step.
    void addExample(const std::string& name);
    void duplicate();
    void remove();
    /// What was typed becomes the recipe, as a step. False: it cannot be read yet, or nothing was typed.
    bool keep();
    bool isChanged() const { return changed_; }
    /// As it is typed; nothing: it cannot be used.
    std::optional<hand::Recipe> typed() const;

  protected:
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    struct Job;
    const model::data::Foldered& folder() const;
    const model::Library::Papers& papers() const;
    void fillNames();
    void fillText();
    void later();
    void start();
    void take(const Job& job);
    void light();
    void pointed();
    void say(const QString& problem, int line);
    void showFile();
    std::size_t byteAt(int position) const;
    int positionAt(std::size_t byte) const;

    Editor& editor_;
    QComboBox *names_, *files_;
    QPlainTextEdit *text_, *out_;
    QLabel *problem_, *facts_, *empty_;
    QPushButton* keep_;
    QWidget* sides_;
    QTimer timer_;
    std::string name_;
    bool isReceiver_ = false;
    QString kept_;  // its text as the project has it
    bool changed_ = false, filling_ = false, again_ = false, pointing_ = false;
    std::shared_ptr<Job> running_;  // shared with the worker
    hand::Written written_;
    std::size_t file_ = 0;
    std::size_t from_ = 0, to_ = 0;                  // bytes of the file that are shown
    std::shared_ptr<const model::Library> library_;  // shared with the worker; of the moment
};

}  // namespace app
