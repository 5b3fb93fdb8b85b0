#pragma once
// Where the keyboard goes when what had it is done: to the view, whose keys are the commands. Text fields elsewhere
// keep it while somebody types.
#include <QKeyEvent>
#include <QObject>
#include <QWidget>
#include <functional>
#include <vector>

namespace app {

class FocusHome : public QObject {
    Q_OBJECT
  public:
    /// `view`: the pane worked in. `rooms`: whose fields give the keyboard back after Enter, Esc, or a choice; fields
    /// for numbers do everywhere in the window, but for what keepsKeyboard().
    FocusHome(QWidget* window, std::function<QWidget*()> view, std::vector<QWidget*> rooms);

    /// What stands beside the view and is worked in by itself: its fields keep the keyboard, and its lists the keys
    /// that would otherwise change the scene.
    static void keepKeyboard(QWidget* room) { room->setProperty("keepsKeyboard", true); }

    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void focusMoved(QWidget* from, QWidget* to);
    bool isForView(QObject* watched, const QKeyEvent& event) const;
    bool inRoom(const QWidget* widget) const;
    bool keyInKeeper(QObject* watched, QKeyEvent& event) const;
    /// To the view, unless somebody else has asked for it meanwhile.
    void giveBackFrom(QWidget* field);

    QWidget* window_;
    std::function<QWidget*()> view_;
    std::vector<QWidget*> rooms_;
};

}  // namespace app
