// What is done to kinds and record types as wholes, and to what they list.
#include "app/dialogs/kinds_window.h"

#include <QMenu>
#include <QToolButton>
#include <functional>
#include "app/dialogs/used_by_popover.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "edit/session.h"
#include "io/data_file.h"
#include "io/kind_item.h"
#include "io/workspace.h"
#include "ops/kinds.h"
#include "ops/properties.h"
#include "ops/records.h"
#include "ops/schema_form.h"
#include "ops/solid.h"

namespace app {

using model::ValueMap;

void KindsWindow::fillLooks(QMenu* menu) {
    menu->clear();
    menu->addAction(tr("A mark"), this, [this] { putInStock({}); });
    const std::string item = chosenItem_ ? chosenItem_() : std::string();
    const model::Item* found = editor_.session().library().item(editor_.session().names().find(item));
    QAction* like = menu->addAction(found != nullptr ? tr("The model of %1").arg(toQt(found->label))
                                                     : tr("The model of the item chosen in the Stock"),
                                    this, [this, item] {
                                        putInStock({{}, item});
                                    });
    like->setEnabled(found != nullptr && !found->bounds.empty() && !found->prefab);
    menu->addSeparator();
    for (int i = 0; i <= static_cast<int>(model::Solid::Shape::Room); ++i) {
        const auto shape = static_cast<model::Solid::Shape>(i);
        menu->addAction(toQt(ops::solidLabel(shape)), this, [this, shape] { putInStock({shape, {}}); });
    }
}

void KindsWindow::putInStock(const io::StockLook& look) {
    if (subject_.isRecordType || subject_.name.empty()) return;
    const std::string kind = subject_.name;
    std::string key;
    if (!editor_.run("Put " + kind + " in the Stock", [&](edit::Draft& draft) -> Status {
            auto model = io::bringModelOf(editor_.workspace(), draft, kind, look);
            if (!model) return tl::unexpected(model.error());
            auto made = ops::putInStock(draft, kind, model->key, model->facts);
            if (!made) return tl::unexpected(made.error());
            key = *made;
            return {};
        }))
        return;
    editor_.libraryGrown();
    Q_EMIT stockAsked(QString::fromStdString(key));
}

void KindsWindow::addEntry() {
    auto list = ops::listOf(own(), listKey());
    ValueMap fresh;
    if (listKey() == "properties") {
        auto taken = [&](const std::string& name) {
            return std::any_of(list.begin(), list.end(),
                               [&](const ValueMap& one) { return model::textOf(one, "name") == name; });
        };
        std::string name = "property";
        for (int n = 2; taken(name); ++n) name = "property" + std::to_string(n);
        fresh = {{"name", {name}}, {"type", {std::string("text")}}};
    } else if (listKey() == "appearances") {
        fresh = {{"badge", {std::string("new")}}};
    } else {
        fresh = {{"label", {std::string("Reset")}}, {"does", {std::string("reset")}}};
    }
    list.push_back(std::move(fresh));
    at_ = list.size() - 1;
    write("Add to " + listKey(), ops::withList(own(), listKey(), list));
    rows_->focusField(toQt(form().front().name));
}

void KindsWindow::removeEntry() {
    auto list = ops::listOf(own(), listKey());
    if (at_ >= list.size()) return editor_.say(tr("It is inherited from %1: remove it there.").arg(toQt(parentName())));
    list.erase(list.begin() + static_cast<std::ptrdiff_t>(at_));
    write("Remove from " + listKey(), ops::withList(own(), listKey(), list));
}

void KindsWindow::moveEntry(int by) {
    auto list = ops::listOf(own(), listKey());
    const auto to = static_cast<std::ptrdiff_t>(at_) + by;
    if (at_ >= list.size() || to < 0 || to >= static_cast<std::ptrdiff_t>(list.size())) return;
    std::swap(list[at_], list[static_cast<std::size_t>(to)]);
    at_ = static_cast<std::size_t>(to);
    write("Reorder " + listKey(), ops::withList(own(), listKey(), list));
}

/// 0 a plain one, 1 like this one, 2 inheriting from it, 3 a record type.
void KindsWindow::make(int how) {
    const model::Library& library = editor_.session().library();
    const std::string like = subject_.isRecordType ? std::string() : subject_.name;
    std::string name = how == 3 ? "record-type" : how == 0 || like.empty() ? "Kind" : like;
    const std::string stem = name;
    auto taken = [&] { return how == 3 ? library.recordType(name) != nullptr : library.kindNamed(name) != nullptr; };
    for (int n = 2; taken(); ++n) name = stem + (how == 3 ? "-" : " ") + std::to_string(n);
    const bool done = run(how == 3 ? "New record type" : "New kind", [&](edit::Draft& draft) -> Status {
        if (how == 3) return ops::newRecordType(draft, name);
        if (how == 2 && !like.empty()) return ops::newKindOf(draft, name, like);
        return ops::newKind(draft, name, how == 1 ? like : std::string());
    });
    if (!done) return;
    subject_ = {how == 3, name};
    at_ = 0;
    search_->clear();
    refresh();
    name_->setFocus();
    name_->selectAll();
}

void KindsWindow::removeSubject() {
    const Subject gone = subject_;
    auto remove = [this, gone] {
        run((gone.isRecordType ? "Delete record type " : "Delete kind ") + gone.name, [&](edit::Draft& draft) {
            return gone.isRecordType ? ops::removeRecordType(draft, gone.name) : ops::removeKind(draft, gone.name);
        });
        refresh();
    };
    auto uses = gone.isRecordType ? recordTypeUses(gone.name) : ops::kindUses(editor_.session(), gone.name);
    if (!uses) return (void)editor_.report(tl::unexpected(uses.error()));
    AskDelete::ask(
        this, editor_,
        gone.isRecordType ? tr("the records of %1").arg(toQt(shownName())) : tr("the kind %1").arg(toQt(gone.name)),
        gone.isRecordType ? tr("Their links lead nowhere then; undo brings them back.")
                          : tr("They stay, of a kind that is not there; undo brings it back."),
        *uses, remove);
}

/// The objects that link to any record of a type.
base::Result<std::vector<ops::Use>> KindsWindow::recordTypeUses(const std::string& type) const {
    std::vector<ops::Use> all;
    const model::RecordType* known = editor_.session().library().recordType(type);
    std::vector<base::ObjectId> records;
    for (const auto& [id, record] : known != nullptr ? known->records : decltype(known->records){})
        records.push_back(id);
    for (base::ObjectId id : records) {
        auto uses = ops::recordUses(editor_.session(), id);
        if (!uses) return uses;
        for (const ops::Use& use : *uses) {
            auto place =
                std::find_if(all.begin(), all.end(), [&](const auto& u) { return u.document == use.document; });
            if (place == all.end()) place = all.insert(all.end(), {use.document, {}});
            place->ids.insert(place->ids.end(), use.ids.begin(), use.ids.end());
        }
    }
    return all;
}

void KindsWindow::renameSubject() {
    if (!name_->isModified()) return;
    name_->setModified(false);
    const std::string to = name_->text().trimmed().toStdString();
    if (to == shownName()) return;
    const Subject subject = subject_;
    ValueMap head = own();
    const bool done = run("Rename " + subject.name + " to " + to, [&](edit::Draft& draft) -> Status {
        if (!subject.isRecordType) return ops::renameKind(draft, subject.name, to);
        model::setValue(head, "label", {to});
        return ops::setRecordType(draft, subject.name, head, {});
    });
    subject_ = subject;
    if (done && !subject.isRecordType) subject_.name = to;
    refresh();
}

}  // namespace app
