#pragma once
// The manual in a window of its own: the pages of docs/, their headings, and a field that finds in all of them.
#include <QLineEdit>
#include <QTextBrowser>
#include <QTreeWidget>
#include <QWidget>

namespace app {

class ManualWindow : public QWidget {
    Q_OBJECT
  public:
    explicit ManualWindow(QWidget* parent);
    /// A page by its file's name, "checks.md".
    void open(const QString& page);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    struct Section {
        QString page, title, text;
        int level = 1;
    };
    void readPages();
    void list();
    void showSection(const Section& section);

    std::vector<Section> sections_;
    QLineEdit* search_;
    QTreeWidget* list_;
    QTextBrowser* text_;
    QString page_;
};

}  // namespace app
