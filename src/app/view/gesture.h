#pragma once
// What the mouse and the keys do in a view. A Gesture waits in the view's list and says whether it would act under the
// pointer; what it begins is a Hold, which has the mouse until it is done. To destroy a Hold is to take it back: Esc.
#include <memory>
#include <optional>

#include "app/view/view_context.h"

namespace app {

/// So far, in pixels, a press moves before it is a drag.
inline constexpr double kDragStart = 4;

/// How it goes on with what is held.
enum class Goes {
    On,
    Done,
    Back,   ///< take it back
    Click,  ///< take it back: it was meant for what lies behind
};

/// Something in the hand, from the press until it is done or destroyed. What is not committed by then goes back.
class Hold : public InView {
  public:
    using InView::InView;
    virtual ~Hold() = default;
    /// The pointer, or a key that means something in a drag, is elsewhere.
    virtual Goes move(Qt::KeyboardModifiers modifiers) = 0;
    virtual Goes release(Qt::KeyboardModifiers modifiers) = 0;
    /// A button goes down though this is still held: the release came elsewhere, unless it goes on without a button.
    virtual Goes press() { return Goes::Back; }
    /// Notches of the wheel. False: they mean what they always do.
    virtual bool wheel(double notches, Qt::KeyboardModifiers modifiers);
    /// Enter. Nothing: it means what it always does.
    virtual std::optional<Goes> enter() { return std::nullopt; }
    /// Opens the field for an exact amount.
    virtual void type() {}
    /// The text of that field is accepted. Nothing: it is refused, and the field stays.
    virtual std::optional<Goes> typed(const QString& text);
    /// Esc takes back one part of it and goes on. False: all goes back.
    virtual bool stepBack() { return false; }
    /// Keys mean what to catch on.
    virtual bool catches() const { return false; }
    virtual void paint(QPainter& p) const;
    virtual QString hint() const = 0;
};

class Gesture : public InView {
  public:
    using InView::InView;
    virtual ~Gesture() = default;
    /// The whole view is this one's now; those after it in the list are not asked.
    virtual bool claims() const { return false; }
    /// Would it act at a pixel? The number of what would be taken; nothing: it would not.
    virtual std::optional<int> offer(const QPointF& pixel) = 0;
    /// The pointer is where something else would act.
    virtual void withdraw() {}

    struct Taken {
        bool yes = false;
        std::unique_ptr<Hold> hold;  ///< null: it is done already
    };
    /// A button goes down at the pointer.
    virtual Taken press(Qt::KeyboardModifiers modifiers);
    /// The press that nobody took has become a drag.
    virtual Taken drag(Qt::KeyboardModifiers modifiers);
    /// The press that nobody took was a click.
    virtual bool click(Qt::KeyboardModifiers modifiers);
    virtual bool doubleClick() { return false; }
    virtual bool wheel(double notches, Qt::KeyboardModifiers modifiers);
    virtual bool key(int key, Qt::KeyboardModifiers modifiers);
    /// Text of the field that type() has opened while nothing is held. False: it is refused, and the field stays.
    virtual bool typed(const QString& text);
    /// Esc with nothing held. False: nothing to take back.
    virtual bool cancel() { return false; }
    virtual bool catches() const { return false; }
    /// While nothing is held.
    virtual void paint(QPainter& p) const;
    /// What it would do.
    virtual QString hint() const { return {}; }
    /// Pixels of the grips that are shown, in their order.
    virtual std::vector<QPointF> grips() const { return {}; }
};

/// A gesture that the whole view is for while it is on.
class ViewTool : public Gesture {
  public:
    using Gesture::Gesture;
    bool claims() const override = 0;
    std::optional<int> offer(const QPointF& pixel) final;
    Taken press(Qt::KeyboardModifiers modifiers) final;
    bool wheel(double notches, Qt::KeyboardModifiers modifiers) final;
    bool cancel() final;

  protected:
    /// The same while it is on.
    virtual bool point(const QPointF& pixel) = 0;  ///< false: there is nothing for it there
    virtual std::unique_ptr<Hold> begin(Qt::KeyboardModifiers modifiers) = 0;
    virtual bool turn(double notches, Qt::KeyboardModifiers modifiers);
    virtual bool putAway() = 0;
};

/// One that works on the place under the pointer, or what is caught there. Put away, the hand has the slide handle
/// again.
class PlaceTool : public ViewTool {
  public:
    using ViewTool::ViewTool;
    void withdraw() override;
    bool catches() const override { return true; }

  protected:
    bool point(const QPointF& pixel) override;
    bool putAway() override;
};

using GesturePtr = std::unique_ptr<Gesture>;

}  // namespace app
