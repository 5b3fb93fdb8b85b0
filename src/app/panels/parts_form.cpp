#include "app/panels/parts_form.h"

#include <QDropEvent>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QTimer>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "model/field_values.h"

namespace app {

PartsForm::PartsForm(Editor& editor, const model::Member& member, FieldsForm::Change change, QWidget* parent)
    : QWidget(parent), member_(member), change_(std::move(change)) {
    const QString key = QString::fromStdString(member.property.name), label = toQt(member.property.label);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = app::label(label, "cardTitle");
    title->setToolTip(toQt(member.property.help));
    head->addWidget(title);
    head->addStretch();
    layout->addLayout(head);
    layout->addWidget(list_ = new QTreeWidget);
    list_->setObjectName(key + "List");
    list_->setAccessibleName(label);
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    list_->setFixedHeight(74);
    layout->addWidget(form_ = new FieldsForm(editor, *member.parts.fields,
                                             [this](const auto&, const auto& set) { return changeChosen(set); }));
    form_->setObjectName(key + "Form");
    acts_ = new QHBoxLayout;
    auto* plus = button<QToolButton>("partAdd", tr("Add"), tr("One more; its place and its turn are fields"));
    plus->setObjectName(key + "Add");
    remove_ = button<QToolButton>("partRemove", tr("Remove"), tr("The one that is chosen goes"));
    remove_->setObjectName(key + "Remove");
    acts_->addWidget(plus);
    acts_->addWidget(remove_);
    auto* row = new QHBoxLayout;
    row->addLayout(acts_);
    row->addStretch();
    layout->addLayout(row);
    connect(plus, &QToolButton::clicked, this, [this] { add({}); });
    connect(remove_, &QToolButton::clicked, this, &PartsForm::remove);
    connect(list_, &QTreeWidget::currentItemChanged, this, &PartsForm::showChosen);
}

int PartsForm::chosen() const {
    return list_->indexOfTopLevelItem(list_->currentItem());
}

void PartsForm::show(std::shared_ptr<const void> keep) {
    thing_ = std::move(keep);
    const int n = static_cast<int>(member_.parts.size(thing_.get())), was = wanted_ >= 0 ? wanted_ : chosen();
    wanted_ = -1;
    isFilling_ = true;
    while (list_->topLevelItemCount() > n) delete list_->takeTopLevelItem(list_->topLevelItemCount() - 1);
    while (list_->topLevelItemCount() < n)
        (new QTreeWidgetItem(list_))->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled | Qt::ItemIsDragEnabled);
    const model::Member& name = member_.parts.fields->members.front();
    for (int i = 0; i < n; ++i) {
        const void* part = member_.parts.at(thing_.get(), static_cast<std::size_t>(i));
        const QString called = textOf_ ? textOf_(part) : toQt(std::get<std::string>(name.get(part)->data));
        list_->topLevelItem(i)->setText(0, called.isEmpty() ? tr("no name") : called);
    }
    list_->setVisible(n > 0);
    if (n > 0) list_->setCurrentItem(list_->topLevelItem(std::clamp(was, 0, n - 1)));
    isFilling_ = false;
    showChosen();
}

void PartsForm::choose(int at) {
    if (at >= 0 && at < list_->topLevelItemCount()) list_->setCurrentItem(list_->topLevelItem(at));
}

void PartsForm::showChosen() {
    if (isFilling_) return;
    const int at = chosen();
    const bool any = thing_ && at >= 0 && static_cast<std::size_t>(at) < member_.parts.size(thing_.get());
    form_->setVisible(any);
    remove_->setEnabled(any);
    const void* part = any ? member_.parts.at(thing_.get(), static_cast<std::size_t>(at)) : nullptr;
    if (any) form_->show(part);
    Q_EMIT shown(part);
}

Status PartsForm::changeChosen(const std::function<Status(void*)>& set) {
    const int at = chosen();
    if (at < 0) return {};
    return change_(member_.property, [this, at, set](void* thing) -> Status {
        if (static_cast<std::size_t>(at) >= member_.parts.size(thing)) return {};
        return set(const_cast<void*>(member_.parts.at(thing, static_cast<std::size_t>(at))));  // `thing` is ours
    });
}

void PartsForm::add(const std::function<void(void*)>& fill) {
    wanted_ = static_cast<int>(member_.parts.size(thing_.get()));
    const auto done = change_(member_.property, [this, fill](void* thing) -> Status {
        void* part = member_.parts.add(thing);
        const model::Member& name = member_.parts.fields->members.front();
        if (name.property.type == model::PropertyType::Text)
            name.set(part, {(member_.property.unit + " " + std::to_string(member_.parts.size(thing)))});
        if (fill) fill(part);
        return {};
    });
    if (!done) wanted_ = -1;
}

void PartsForm::shift(int by) {
    move(chosen(), chosen() + by);
}

void PartsForm::move(int from, int to) {
    if (from < 0 || to < 0 || from == to || std::max(from, to) >= list_->topLevelItemCount()) return;
    wanted_ = to;
    const auto done = change_(member_.property, [this, from, to](void* thing) -> Status {
        model::Value all = model::partsValue(member_, thing);
        auto& list = std::get<model::ValueList>(all.data);
        if (static_cast<std::size_t>(std::max(from, to)) < list.size()) {
            model::Value part = std::move(list[static_cast<std::size_t>(from)]);
            list.erase(list.begin() + from);
            list.insert(list.begin() + to, std::move(part));
        }
        return model::setParts(member_, thing, all);
    });
    if (!done) wanted_ = -1;
}

void PartsForm::letBeDragged() {
    list_->setDragDropMode(QAbstractItemView::InternalMove);
    list_->setDropIndicatorShown(true);
    list_->viewport()->installEventFilter(this);
}

/// Dropped between two, or after the last: the step moves it, and the list is filled anew by that.
bool PartsForm::eventFilter(QObject* object, QEvent* event) {
    if (event->type() != QEvent::Drop) return QWidget::eventFilter(object, event);
    auto* drop = static_cast<QDropEvent*>(event);
    const QPoint at = drop->position().toPoint();
    QTreeWidgetItem* under = list_->itemAt(at);
    int to = list_->topLevelItemCount();
    if (under != nullptr)
        to = list_->indexOfTopLevelItem(under) + (at.y() > list_->visualItemRect(under).center().y() ? 1 : 0);
    const int from = chosen();
    drop->setDropAction(Qt::IgnoreAction);
    drop->accept();
    QTimer::singleShot(0, this, [this, from, to] { move(from, to > from ? to - 1 : to); });  // the drag is over first
    return true;
}

void PartsForm::remove() {
    const int at = chosen();
    if (at < 0) return;
    (void)change_(member_.property, [this, at](void* thing) -> Status {
        model::Value all = model::partsValue(member_, thing);
        auto& list = std::get<model::ValueList>(all.data);
        if (static_cast<std::size_t>(at) < list.size()) list.erase(list.begin() + at);
        return model::setParts(member_, thing, all);
    });
}

}  // namespace app
