#pragma once
// An outline on its way: its corners clicked one after the other on what lies under the pointer.
#include "app/view/gesture.h"

namespace app {

class CornersHold : public Hold {
  public:
    CornersHold(ViewContext& view, const base::Vec3& corner) : Hold(view), corners_{corner} {}
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers) override { return Goes::On; }
    Goes press() override;
    std::optional<Goes> enter() override { return corners_.size() < 3 ? Goes::On : closed(); }
    bool stepBack() override {
        corners_.pop_back();
        return !corners_.empty();
    }
    bool catches() const override { return true; }
    void paint(QPainter& p) const override;
    QString hint() const override;
    /// What is caught under the pointer, else the place there on steps; nothing, and it is said: there is none.
    static std::optional<base::Vec3> cornerAt(ViewContext& view);

  protected:
    /// The first corner was clicked again, or Enter; there are three or more.
    virtual Goes closed() = 0;
    std::vector<base::Vec3> corners_;
};

}  // namespace app
