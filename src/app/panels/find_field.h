#pragma once
// One field over commands, items and objects: type, choose, Enter. A command is run, an item is placed in front of the
// camera, an object is selected and brought into view.
#include <QFrame>
#include <QLineEdit>
#include <QListWidget>

#include "app/commands/commands.h"
#include "app/shell/editor.h"

namespace app {

class FindField : public QLineEdit {
    Q_OBJECT
  public:
    FindField(Editor& editor, const CommandSet& commands, QWidget* parent = nullptr);
    void begin();

  Q_SIGNALS:
    void placeRequested(const QString& item);
    void objectChosen(base::ObjectId id);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

  private:
    enum Type { CommandType, ItemType, ObjectType };
    struct Found {
        int rank;
        QString text, right;
        Type type;
        QString key;
        bool enabled = true;
    };
    Found foundCommand(const Command& command, int rank) const;
    std::vector<Found> commandsLike(const std::string& wanted) const;
    std::vector<Found> itemsLike(const std::string& wanted) const;
    std::vector<Found> objectsLike(const std::string& wanted) const;
    void list(std::vector<Found> found);
    void search();
    void choose(QListWidgetItem* item);
    void close();

    Editor& editor_;
    const CommandSet& commands_;
    QFrame* popup_;
    QListWidget* results_;
};

}  // namespace app
