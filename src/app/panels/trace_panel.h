#pragma once
// The desk's page for rehearsals: the runs that are kept of the scene, what happened in the one that is shown, and how
// it differs from another.
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QTableWidget>
#include <QToolButton>
#include <QWidget>

#include "app/shell/rehearsal.h"

namespace app {

class TracePanel : public QWidget {
    Q_OBJECT
  public:
    explicit TracePanel(Editor& editor, QWidget* parent = nullptr);

  private:
    void fillRuns();
    void fillEntries();
    void followMoment();
    int chosenRun() const;

    Editor& editor_;
    Rehearsal& rehearsal_;
    QListWidget* runs_;
    QToolButton *look_, *replay_, *forget_;
    QComboBox* against_;
    QTableWidget* entries_;
    QLabel* parts_;
    std::size_t filled_ = 0;
    const rehearse::Trace* filledOf_ = nullptr;
    bool filling_ = false;
};

}  // namespace app
