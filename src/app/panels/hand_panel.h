#pragma once
// Handing over in the desk: the recipe with what it makes, the report of a hand-over, a list that comes back.
#include <QComboBox>
#include <QPushButton>
#include <QStackedWidget>
#include <QToolButton>
#include <QWidget>
#include <atomic>
#include <memory>
#include <thread>

#include "app/panels/recipe_page.h"
#include "app/panels/report_page.h"
#include "app/panels/take_in_page.h"
#include "hand/hand_over.h"

namespace app {

class HandPanel : public QWidget {
    Q_OBJECT
  public:
    explicit HandPanel(Editor& editor, QWidget* parent = nullptr);
    ~HandPanel() override;
    RecipePage& recipes() { return *recipe_; }
    ReportPage& report() { return *report_; }
    /// Asks for a folder and writes what the recipe makes.
    void writeFiles();
    /// Asks for a list and looks at it by the recipe that is shown.
    void chooseList();
    void lookAt(const QString& file);
    /// Looks at what a hand-over to the chosen receiver would write.
    void preview();
    void handOver();
    void putBack();
    /// A command of the project, its hand-over first.
    void launch(const std::string& command);
    void stop();
    std::string receiver() const;
    void showReport() { pages_->setCurrentWidget(report_); }
    bool isRunning() const { return running_ != nullptr; }

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    void fill();
    bool mayRun(const hand::HandOverPlan& plan, const std::vector<hand::Command>& commands);
    QString shown(const std::filesystem::path& file) const;
    void tellPlan(const hand::HandOverPlan& plan);
    void tellLimits(const std::string& receiver);
    std::optional<hand::HandOverPlan> planned(const std::string& receiver);
    bool delivered(const hand::HandOverPlan& plan);
    void run(std::vector<hand::Command> commands, const hand::Words& words);

    Editor& editor_;
    QStackedWidget* pages_;
    RecipePage* recipe_;
    TakeInPage* takeIn_;
    ReportPage* report_;
    QComboBox* receivers_;
    QToolButton *preview_, *hand_, *check_, *back_, *commands_, *write_, *take_;
    std::shared_ptr<base::Progress> running_;  // shared with the worker
    std::thread worker_;
};

}  // namespace app
