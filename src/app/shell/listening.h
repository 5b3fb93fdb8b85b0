#pragma once
// What is heard in the window: a sound that one listens to, and those of a rehearsal, from where they stand. The device
// is opened when something is to be heard first; a machine without one says so once.
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <map>
#include <memory>
#include <string>

#include "app/shell/editor.h"
#include "app/sound/speaker.h"

namespace app {

class Listening : public QObject {
    Q_OBJECT
  public:
    explicit Listening(Editor& editor, QObject* parent = nullptr);

    /// Plays a file of media, from its beginning; again: stops.
    void toggle(const std::string& file);
    void stop();
    /// What one listens to; empty: nothing.
    const std::string& playing() const { return playing_; }
    /// How far it has come, 0..1.
    double share() const;
    bool isMuted() const { return muted_; }
    void setMuted(bool muted);

  Q_SIGNALS:
    void changed();

  private:
    Speaker* speaker();
    bool load(const std::string& file);
    void follow();
    void silence();

    Editor& editor_;
    std::unique_ptr<Speaker> speaker_;
    std::string playing_;
    int playingAs_ = 0;
    std::map<std::string, double> lengths_;  // seconds, of what is loaded
    QElapsedTimer clock_;
    QTimer timer_;
    bool muted_ = false;
    /// Of a rehearsal: by sound of its level, since which step and as what.
    std::map<std::size_t, std::pair<int, int>> heard_;
};

}  // namespace app
