#pragma once
// The handle in the view: dragging it, doing the same by keys, typing an exact amount.
#include "app/view/gesture.h"
#include "render/handle.h"

namespace app {

class PullHandle : public Gesture {
  public:
    explicit PullHandle(ViewContext& view);
    std::optional<int> offer(const QPointF& pixel) override;
    void withdraw() override { hovered_ = {}; }
    Taken press(Qt::KeyboardModifiers modifiers) override;
    bool key(int key, Qt::KeyboardModifiers modifiers) override;
    bool typed(const QString& text) override;
    void paint(QPainter& p) const override;
    QString hint() const override;

    /// Does what the active handle does, by one step along (or about) the axis nearest a direction on the screen.
    void nudge(Qt::Key key, Qt::KeyboardModifiers modifiers);
    /// The pixel of an axis' end (Turn: of the middle of its ring's front), for tests and help.
    std::optional<QPointF> tip(int axis, render::Task task = render::Task::Slide) const;

  private:
    render::HandlePart typedPart() const;
    void type();
    void run(const render::HandlePart& part, const render::HandleAmount& amount);

    render::HandlePart hovered_, lastPart_{render::Task::Slide, 0};
};

/// The handle of the selection as it stands; nothing: none is shown.
std::optional<render::Handle> handleOf(const ViewContext& view);
/// The part of it under a pixel.
render::HandlePart handlePartUnder(const ViewContext& view, const QPointF& pixel);
/// A handle's axes can look the way the view does.
base::Mat3 viewAxes(const render::Camera& camera);

}  // namespace app
