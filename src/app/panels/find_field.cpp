#include "app/panels/find_field.h"

#include <QKeyEvent>
#include <QSettings>
#include <QVBoxLayout>
#include <algorithm>
#include <tuple>

#include "app/commands/find_words.h"
#include "app/kit/parts.h"
#include "base/text.h"
#include "edit/session.h"

namespace app {
namespace {

constexpr int kMostEach = 7;
constexpr int kMostRecent = 12;
enum Role { TypeRole = Qt::UserRole, KeyRole };

}  // namespace

FindField::FindField(Editor& editor, const CommandSet& commands, QWidget* parent)
    : QLineEdit(parent), editor_(editor), commands_(commands) {
    setObjectName("find");
    setAccessibleName(tr("Find a command, item or object"));
    setPlaceholderText(tr("Find a command, item or object"));
    setToolTip(tr("Find a command, item or object (Ctrl+F)"));
    setFixedWidth(330);
    popup_ = new QFrame(window());
    popup_->setObjectName("popover");
    popup_->setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QVBoxLayout(popup_);
    layout->setContentsMargins(5, 5, 5, 5);
    results_ = new QListWidget;
    results_->setObjectName("findResults");
    results_->setFocusPolicy(Qt::NoFocus);
    results_->setUniformItemSizes(true);
    layout->addWidget(results_);
    popup_->hide();
    connect(this, &QLineEdit::textChanged, this, &FindField::search);
    connect(results_, &QListWidget::itemClicked, this, &FindField::choose);
}

void FindField::begin() {
    setFocus();
    selectAll();
    search();
}

namespace {

/// How well a text answers what was typed: 0 it is that, 1 begins so, 2 a word does, 3 it is in it, 5 but for a letter;
/// -1 not at all.
int textRank(const QString& text, const std::string& wanted) {
    const std::string plain = text.toStdString();
    if (base::sameFolded(plain, wanted)) return 0;
    if (const int rank = base::matchRank(plain, wanted); rank >= 0) return rank + 1;
    return isNearly(plain, wanted) ? 5 : -1;
}

/// Other words for a command come after its own, and before those with a letter wrong.
int commandRank(const Command& command, const std::string& wanted) {
    constexpr int kApart = 100;
    const int rank = textRank(command.text, wanted);
    if (rank >= 0 && rank < 5) return rank * kApart;
    const int place = otherWordPlace(command.id.toStdString(), wanted);
    return place >= 0 ? 4 * kApart + place : rank * kApart;
}

QStringList recentlyFound() {
    return QSettings().value("find/recent").toStringList();
}

}  // namespace

FindField::Found FindField::foundCommand(const Command& command, int rank) const {
    QAction* action = commands_.action(command.id);
    const QString keys = action->shortcut().toString(QKeySequence::NativeText);
    Found found{rank, command.text, commands_.place(command.id), CommandType, command.id, true};
    if (!keys.isEmpty()) found.right += (found.right.isEmpty() ? "" : "  ·  ") + keys;
    if (action->isEnabled()) return found;
    found.enabled = false;
    const QString why = commands_.whyNot(command);
    if (!why.isEmpty()) found.right = why;
    return found;
}

std::vector<FindField::Found> FindField::commandsLike(const std::string& wanted) const {
    std::vector<Found> found;
    for (const Command& command : commands_.all())
        if (const int rank = commandRank(command, wanted); rank >= 0) found.push_back(foundCommand(command, rank));
    return found;
}

std::vector<FindField::Found> FindField::itemsLike(const std::string& wanted) const {
    std::vector<Found> found;
    for (const model::Item& item : editor_.session().library().items()) {
        if (item.isSolid || !item.offered) continue;
        const QString label = QString::fromStdString(item.label);
        if (const int rank = textRank(label, wanted); rank >= 0)
            found.push_back({rank, tr("Place %1").arg(label), item.prefab ? tr("prefab") : tr("item"), ItemType,
                             QString::fromStdString(item.name), true});
    }
    return found;
}

std::vector<FindField::Found> FindField::objectsLike(const std::string& wanted) const {
    constexpr std::size_t kMost = 400;
    std::vector<Found> found;
    const model::Scene& scene = editor_.scene();
    for (const bool nearly : {false, true}) {
        for (model::Slot s = 0; s < scene.slotEnd() && found.size() < kMost; ++s) {
            if (!scene.alive(s)) continue;
            const auto name = scene.nameText(s);
            const int rank = nearly ? (isNearly(name, wanted) ? 5 : -1) : base::matchRank(name, wanted);
            if (rank >= 0)
                found.push_back({rank, toQt(name), tr("object"), ObjectType,
                                 QString::fromStdString(base::toText(scene.id(s))), true});
        }
        if (!found.empty()) break;
    }
    return found;
}

/// The best ones of a sort; of two alike what was chosen lately.
void FindField::list(std::vector<Found> found) {
    const QStringList recent = recentlyFound();
    auto lately = [&](const Found& f) {
        const auto at = recent.indexOf(f.key);
        return at < 0 ? recent.size() : at;
    };
    std::stable_sort(found.begin(), found.end(), [&](const Found& a, const Found& b) {
        return std::tuple(a.rank, !a.enabled, lately(a)) < std::tuple(b.rank, !b.enabled, lately(b));
    });
    for (std::size_t i = 0; i < std::min<std::size_t>(found.size(), kMostEach); ++i) {
        auto* row = new QListWidgetItem(found[i].text + "    " + found[i].right, results_);
        row->setData(TypeRole, found[i].type);
        row->setData(KeyRole, found[i].key);
        row->setToolTip(row->text());
        if (found[i].enabled) continue;
        row->setFlags(Qt::ItemIsSelectable);
        row->setForeground(editor_.theme().faint);
    }
}

void FindField::search() {
    results_->clear();
    const std::string wanted = text().trimmed().toStdString();
    if (wanted.empty()) {
        std::vector<Found> recent;
        for (const QString& key : recentlyFound())
            if (const Command* command = commands_.command(key)) recent.push_back(foundCommand(*command, 0));
        if (recent.empty()) return popup_->hide();
        list(std::move(recent));
    } else {
        list(commandsLike(wanted));
        if (editor_.isOpen()) {
            list(itemsLike(wanted));
            list(objectsLike(wanted));
        }
    }
    if (results_->count() == 0) {
        auto* none = new QListWidgetItem(tr("Nothing is called that."), results_);
        none->setFlags(Qt::NoItemFlags);
    }
    results_->setCurrentRow(0);
    const int rows = std::min(results_->count(), 16);
    popup_->setParent(window());
    popup_->setGeometry(QRect(mapTo(window(), QPoint(-70, height() + 4)),
                              QSize(width() + 140, rows * results_->sizeHintForRow(0) + 16)));
    popup_->show();
    popup_->raise();
}

void FindField::close() {
    popup_->hide();
    clear();
}

void FindField::choose(QListWidgetItem* item) {
    if (item == nullptr || (item->flags() & Qt::ItemIsEnabled) == 0) return;
    const auto type = static_cast<Type>(item->data(TypeRole).toInt());
    const QString key = item->data(KeyRole).toString();
    QStringList recent = recentlyFound();
    recent.removeAll(key);
    recent.prepend(key);
    QSettings().setValue("find/recent", recent.mid(0, kMostRecent));
    close();
    clearFocus();
    if (type == CommandType) commands_.action(key)->trigger();
    if (type == ItemType) Q_EMIT placeRequested(key);
    if (type == ObjectType)
        if (auto id = base::parseObjectId(key.toStdString())) Q_EMIT objectChosen(*id);
}

void FindField::keyPressEvent(QKeyEvent* event) {
    const int rows = results_->count();
    if (event->key() == Qt::Key_Down && rows > 0) return results_->setCurrentRow((results_->currentRow() + 1) % rows);
    if (event->key() == Qt::Key_Up && rows > 0)
        return results_->setCurrentRow((results_->currentRow() + rows - 1) % rows);
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return choose(results_->currentItem());
    if (event->key() == Qt::Key_Escape) {
        close();
        return clearFocus();
    }
    QLineEdit::keyPressEvent(event);
}

void FindField::focusOutEvent(QFocusEvent* event) {
    if (!results_->underMouse()) close();  // what was looked for is not what is looked for next
    QLineEdit::focusOutEvent(event);
}

}  // namespace app
