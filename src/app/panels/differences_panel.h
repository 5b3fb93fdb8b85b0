#pragma once
// What differs in the selected instance from its prefab, with before and now; given to the definition or taken back.
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QWidget>

#include "app/shell/editor.h"
#include "ops/prefab.h"

namespace app {

class DifferencesPanel : public QWidget {
    Q_OBJECT
  public:
    explicit DifferencesPanel(Editor& editor, QWidget* parent = nullptr);

    /// The instance whose differences are listed: the selected one, or the one around what is selected; zero: none.
    base::ObjectId instance() const { return instance_; }
    void refresh();

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    std::vector<ops::DifferenceEntry> chosen() const;
    void act(bool give, const std::vector<ops::DifferenceEntry>& entries);

    Editor& editor_;
    QLabel *title_, *empty_;
    QTreeWidget* list_;
    QPushButton *give_, *takeBack_, *giveAll_, *takeAllBack_;
    base::ObjectId instance_;
    std::vector<ops::DifferenceEntry> entries_;
};

}  // namespace app
