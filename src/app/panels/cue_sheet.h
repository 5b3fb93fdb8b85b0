#pragma once
// The cues of the scene, one row each: whose, its name, when, then, and how it stands; of what is selected, or all.
// Name, times and rest are changed in the row; the rest in Properties of the object. In a rehearsal it says which are
// waiting, have gone off, or cannot.
#include <QCheckBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QTableWidget>
#include <QToolButton>
#include <QWidget>

#include "app/panels/cue_strip.h"
#include "app/shell/editor.h"
#include "model/facets/cues.h"

namespace app {

class CueSheet : public QWidget {
    Q_OBJECT
  public:
    explicit CueSheet(Editor& editor, QWidget* parent = nullptr);

  private:
    struct Row {
        base::ObjectId object;
        std::size_t cue = 0;
    };
    void fill();
    void fillStates();
    void fillStrip();
    QString stateText(const Row& row) const;
    void edited(QTableWidgetItem* item);
    void add();
    void remove();
    void copy();
    void paste();
    void sortBy(int column);
    QString keyOf(const Row& row) const;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void setOff();
    bool isShown(model::Slot slot, const model::Cue& cue) const;
    int chosen() const;
    base::Status change(const std::string& what, const Row& row, const std::function<base::Status(model::Cue&)>& set);
    void showEvent(QShowEvent* event) override;

    Editor& editor_;
    QTableWidget* table_;
    QCheckBox* selected_;
    QLabel* said_;
    CueStrip* strip_;
    QToolButton *add_, *copy_, *paste_, *remove_, *setOff_;
    int sorted_ = -1;  // by which column; below 0: as the scene has them
    bool falling_ = false;
    std::vector<Row> rows_;
    QElapsedTimer liveClock_;
    bool isFilling_ = false;
};

}  // namespace app
