#pragma once
// The desk's page for checks: what was found, by rule, severity or object; why it matters and what the rule takes;
// mend it, live with it, switch the rule off. Beside it the scene's facts.
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>

#include "app/panels/form.h"
#include "app/shell/checks.h"

namespace app {

class ChecksPanel : public QWidget {
    Q_OBJECT
  public:
    ChecksPanel(Editor& editor, Checks& checks, QWidget* parent = nullptr);
    void acceptCurrent(const QString& reason);
    /// All rules instead of what was found.
    void showRules();

  Q_SIGNALS:
    /// One wants to see it in the view.
    void goTo(const check::Finding& finding);
    /// Why may it stay? The answer comes back to acceptCurrent().
    void reasonWanted();
    /// What can be done with the finding under the pointer is to be put into it.
    void menuRequested(QMenu* menu);

  private:
    QWidget* makeBar();
    QWidget* makeAbout();
    void makeFactsTable();
    void listen();
    void refresh();
    void refreshState();
    double areaSize() const;
    void refreshCurrent();
    void refreshFacts();
    void listRules();
    QStringList whereOff(const check::Rule& rule) const;
    const check::Rule* currentRule() const;
    std::vector<check::Finding> chosen() const;
    bool isAccepted() const;
    QString reasonFor(const check::Finding& finding) const;
    void fillRuleMenu(QMenu* menu);
    void change(const QString& name, const std::function<base::Status(edit::Draft&)>& verb);

    Editor& editor_;
    Checks& checks_;
    QLabel* state_;
    QComboBox* by_;
    QToolButton *all_, *fix_, *fixAll_, *accept_, *rule_, *rules_, *facts_;
    QTreeWidget* list_;
    std::vector<check::Finding> rows_;  // by the number in a row
    QStackedWidget* right_;
    QLabel *title_, *why_, *message_, *picture_;
    Form* parameters_;
    QTableWidget* table_;
    bool filling_ = false;
};

}  // namespace app
