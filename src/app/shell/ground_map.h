#pragma once
// What of the ground can be come to from the start, made on a worker when it is asked for and again a while after
// edits; and what of it is seen from a place.
#include <QObject>
#include <QTimer>
#include <functional>
#include <memory>
#include <optional>
#include <thread>

#include "rehearse/ground.h"

namespace app {

class Editor;

class GroundMap : public QObject {
    Q_OBJECT
  public:
    using LevelNow = std::function<std::shared_ptr<const rehearse::Level>()>;
    GroundMap(Editor& editor, LevelNow levelNow);
    ~GroundMap() override;

    /// Null: it was not asked for, or is being made.
    const std::vector<rehearse::Patch>* patches() const { return patches_ ? &*patches_ : nullptr; }
    /// Which of them; null: nobody asked from where.
    const std::vector<bool>* seen() const { return seen_ ? &*seen_ : nullptr; }
    bool isBeingMade() const { return beingMade_; }
    bool isShown() const { return shown_; }
    void show(bool on);
    /// Also what is seen from a place; nothing: no more.
    void showSeenFrom(const std::optional<base::Vec3>& eye);
    /// The project is about to go.
    void close();

  Q_SIGNALS:
    void changed();

  private:
    void make();
    void take(std::optional<std::vector<rehearse::Patch>> made, const std::string& why);

    Editor& editor_;
    LevelNow levelNow_;
    QTimer timer_;
    std::optional<std::vector<rehearse::Patch>> patches_;
    std::optional<std::vector<bool>> seen_;
    std::optional<base::Vec3> seenFrom_;
    std::thread worker_;
    std::shared_ptr<base::Progress> progress_;  // shared with the worker
    bool beingMade_ = false, shown_ = false, stale_ = false;
};

}  // namespace app
