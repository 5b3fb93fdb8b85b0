#pragma once
// The project's scenes, in their order: go there, make, copy, rename in place, delete, and what is said of each.
#include <QFrame>
#include <QPushButton>
#include <QToolButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <map>

#include "app/shell/editor.h"
#include "model/project_facts.h"

namespace app {

class ScenesPopover : public QFrame {
    Q_OBJECT
  public:
    ScenesPopover(QWidget* parent, Editor& editor);

  Q_SIGNALS:
    void newAsked();
    void duplicateAsked(const QString& scene);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void makeList(QVBoxLayout* into);
    void makeSwitches(QVBoxLayout* into);
    void makeFoot(QVBoxLayout* into);
    void refill(std::string current = {});
    void refreshButtons();
    std::string current() const;
    void go();
    void rename(const std::string& from, const QString& to);
    void removeCurrent();
    void moveCurrent(int by);
    void change(const QString& step, bool model::SceneEntry::*member, bool on);

    Editor& editor_;
    QTreeWidget* list_;
    QPushButton *go_, *duplicate_, *rename_, *delete_;
    QToolButton *first_, *scratch_, *template_, *up_, *down_;
    std::map<std::string, std::size_t> inFile_;  // objects, of those that were not read yet
    bool filling_ = false;
};

}  // namespace app
