#pragma once
// What others do to the files of the open project, while it is open: noticed, and told until somebody decides.
#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>

#include "io/outside.h"

namespace app {

class Editor;

class Outside : public QObject {
    Q_OBJECT
  public:
    explicit Outside(Editor& editor);

    const std::vector<io::OutsideChange>& changes() const { return changes_; }
    /// Looks at the files now.
    void look();
    /// While files are written here nobody looks.
    void setPaused(bool paused);
    void readTheirs();
    void keepMine();
    /// What differs, a line each.
    QStringList compare();

  Q_SIGNALS:
    void changed();

  private:
    void watch();

    Editor& editor_;
    QFileSystemWatcher watcher_;
    QTimer settle_;  // files are often written in several goes
    bool paused_ = false;
    std::vector<io::OutsideChange> changes_;
};

}  // namespace app
