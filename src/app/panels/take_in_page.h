#pragma once
// A list that comes back, looked at before it is taken in: what would be new, changed, gone or wrong; columns that no
// recipe knows are told what they are; names that no item has are told once.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QWidget>

#include "app/shell/editor.h"
#include "hand/take_in.h"

namespace app {

class TakeInPage : public QWidget {
    Q_OBJECT
  public:
    explicit TakeInPage(Editor& editor, QWidget* parent = nullptr);
    /// Looks at a file; `recipe` empty: its columns are guessed by their names.
    void show(const QString& file, const std::string& recipe);
    /// Writes it as one step. True when it went well.
    bool accept();

  Q_SIGNALS:
    void finished();

  private:
    void plan();
    void fillColumns();
    void fillNames();
    void fillRows();

    Editor& editor_;
    QLabel *file_, *summary_;
    QComboBox* recipes_;
    QTreeWidget *columns_, *names_, *rows_;
    QCheckBox *removeGone_, *despite_;
    QPushButton* accept_;
    QString path_;
    std::string bytes_, problem_;
    hand::Recipe recipe_;
    bool guessed_ = false, filling_ = false;
    hand::Recipe::Names learnt_;
    hand::ReadList list_;
    hand::TakeInPlan plan_;
};

}  // namespace app
