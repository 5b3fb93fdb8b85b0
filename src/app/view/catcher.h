#pragma once
// Catching: while a number key is held, what is dragged or placed lands on the corner, edge, face, centre or end under
// the pointer, or on the route.
#include <QPainter>
#include <QPointF>
#include <optional>
#include <set>

#include "query/catch.h"
#include "render/handle.h"

namespace app {

class ViewContext;

class Catcher {
  public:
    explicit Catcher(ViewContext& view) : view_(view) {}

    /// Keys that mean something while one can catch: what to catch on, nothing at all, off the steps, in line, through
    /// what one would touch.
    static bool isKey(int key);
    /// True when that changes something.
    bool press(int key) { return keys_.insert(key).second; }
    bool release(int key) { return keys_.erase(key) > 0; }
    void releaseAll() { keys_.clear(); }
    bool holds(int key) const { return keys_.contains(key); }
    /// In line without a key, or with it.
    bool linesUp() const;

    /// Looks for what is caught at a pixel.
    const std::optional<query::CatchPoint>& look(const QPointF& pixel);
    const std::optional<query::CatchPoint>& caught() const { return caught_; }
    /// The route that is caught; kNoSlot: none.
    model::Slot route() const {
        return caught_ && caught_->kind == query::CatchKind::Route ? caught_->slot : model::kNoSlot;
    }
    /// The same when it has stops: what is let go on it becomes one.
    base::ObjectId course() const;
    void forget() { caught_.reset(); }

    /// What is in the hand, and never caught on itself.
    void setMine(query::SlotFilter mine) { mine_ = std::move(mine); }
    /// The hand is empty again.
    void letGo() {
        mine_ = {};
        caught_.reset();
    }
    /// What may be caught: others, hidden and protected ones as set.
    query::SlotFilter others() const;
    /// Shift: fine. G held: no steps at all.
    render::Steps steps(Qt::KeyboardModifiers modifiers) const;
    void paint(QPainter& p) const;

  private:
    std::optional<query::CatchPoint> find(const QPointF& pixel) const;
    std::optional<query::CatchPoint> onRoute(const QPointF& pixel) const;

    ViewContext& view_;
    std::set<int> keys_;
    std::optional<query::CatchPoint> caught_;
    query::SlotFilter mine_;
};

}  // namespace app
