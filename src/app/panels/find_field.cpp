#include "app/panels/find_field.h"

#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "base/text.h"

namespace app {
namespace {

constexpr int kMostEach = 7;
enum Role { TypeRole = Qt::UserRole, KeyRole };
enum Type { CommandType, ItemType, ObjectType };

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
    if (!text().isEmpty()) search();
}

void FindField::search() {
    results_->clear();
    const std::string wanted = text().trimmed().toStdString();
    if (wanted.empty()) return popup_->hide();
    struct Found {
        int rank;
        QString text, right;
        Type type;
        QString key;
    };
    auto add = [&](std::vector<Found> found) {
        std::stable_sort(found.begin(), found.end(), [](const Found& a, const Found& b) { return a.rank < b.rank; });
        for (std::size_t i = 0; i < std::min<std::size_t>(found.size(), kMostEach); ++i) {
            auto* row = new QListWidgetItem(found[i].text + "    " + found[i].right, results_);
            row->setData(TypeRole, found[i].type);
            row->setData(KeyRole, found[i].key);
        }
    };
    std::vector<Found> found;
    for (const Command& command : commands_.all()) {
        const int rank = base::matchRank(command.text.toStdString(), wanted);
        QAction* action = commands_.action(command.id);
        if (rank >= 0 && action->isEnabled())
            found.push_back({rank, command.text,
                             tr("%1 · command").arg(action->shortcut().toString(QKeySequence::NativeText)), CommandType,
                             command.id});
    }
    add(std::move(found));
    found.clear();
    if (editor_.isOpen()) {
        for (const model::Item& item : editor_.session().library().items())
            if (const int rank = base::matchRank(item.label, wanted); rank >= 0 && !item.isSolid)
                found.push_back({rank, tr("Place %1").arg(QString::fromStdString(item.label)),
                                 item.prefab ? tr("prefab") : tr("item"), ItemType, QString::fromStdString(item.name)});
        add(std::move(found));
        found.clear();
        const model::Scene& scene = editor_.scene();
        for (model::Slot s = 0; s < scene.slotEnd() && found.size() < 400; ++s) {
            if (!scene.alive(s)) continue;
            const auto name = scene.nameText(s);
            if (const int rank = base::matchRank(name, wanted); rank >= 0)
                found.push_back({rank, QString::fromUtf8(name.data(), static_cast<int>(name.size())), tr("object"),
                                 ObjectType, QString::fromStdString(base::toText(scene.id(s)))});
        }
        add(std::move(found));
    }
    if (results_->count() == 0) {
        auto* none = new QListWidgetItem(tr("Nothing is called that."), results_);
        none->setFlags(Qt::NoItemFlags);
    }
    results_->setCurrentRow(0);
    const int rows = std::min(results_->count(), 16);
    popup_->setParent(window());
    popup_->setGeometry(QRect(mapTo(window(), QPoint(-30, height() + 4)),
                              QSize(width() + 60, rows * results_->sizeHintForRow(0) + 16)));
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
    if (!results_->underMouse()) popup_->hide();
    QLineEdit::focusOutEvent(event);
}

}  // namespace app
