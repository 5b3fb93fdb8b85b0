#pragma once
// The project's kinds in one window, and what they say: of themselves, their properties, appearances and buttons. The
// schemas of record types are edited in the same way.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTabBar>
#include <QTreeWidget>
#include <QWidget>
#include <map>

#include "app/kit/list_and_form.h"
#include "app/panels/property_rows.h"
#include "app/shell/editor.h"
#include "ops/prefab.h"

class QMenu;
class QToolButton;

namespace io {
struct StockLook;
}

namespace app {

class KindsWindow : public ListAndForm {
    Q_OBJECT
  public:
    KindsWindow(QWidget* parent, Editor& editor);
    void reveal(const std::string& kind);
    /// A record type; of that name there is none: the first.
    void revealRecords(const std::string& type);
    /// Which item is chosen in the Stock: a kind can look like it.
    void setChosenItem(std::function<std::string()> chosen) { chosenItem_ = std::move(chosen); }

  Q_SIGNALS:
    /// A kind can be placed now; where that is wants to be seen.
    void stockAsked(const QString& item);

  private:
    /// What a tab edits: the kind itself, or one of the lists it has.
    enum class Page { Itself, Properties, Appearances, Buttons };
    struct Subject {
        bool isRecordType = false;
        std::string name;
        friend bool operator==(const Subject&, const Subject&) = default;
    };

    QToolButton* button(const char* name, const QString& text, const QString& tip, std::function<void()> run);
    void makeList();
    void makeSide();
    void putInStock(const io::StockLook& look);
    void fillLooks(QMenu* menu);
    void listen();
    bool canEditNow() const;
    void refresh();
    void refreshList();
    void refreshEntries();
    void refreshForm();
    PropertyShown shownField(const model::Property& f) const;
    void offer(PropertyShown& shown) const;
    const std::vector<model::Property>& form() const;
    model::ValueMap own() const;
    model::ValueMap entry() const;
    std::string parentName() const;
    std::vector<model::ValueMap> allProperties() const;
    std::vector<model::ValueMap> inheritedProperties() const;
    base::Result<std::vector<ops::Use>> recordTypeUses(const std::string& type) const;
    std::string listKey() const;
    std::string shownName() const;
    bool write(const std::string& what, const model::ValueMap& own,
               const std::map<std::string, std::string>& renamed = {});
    void setField(const QString& name, const std::function<base::Result<model::Value>(const model::Property&)>& to);
    void addEntry();
    void removeEntry();
    void moveEntry(int by);
    void make(int how);
    void removeSubject();
    void renameSubject();
    bool run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb);

    QTreeWidget* entries_;
    QTabBar* tabs_;
    QWidget* entryBox_;
    QLabel* report_;
    std::function<std::string()> chosenItem_;
    Subject subject_;
    std::size_t at_ = 0;  // which entry of the list
    bool filling_ = false;
};

}  // namespace app
