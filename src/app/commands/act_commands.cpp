// Acts: what is there when; looked at and worked in.
#include <algorithm>

#include "app/commands/all.h"
#include "app/names.h"
#include "app/shell/acts.h"

namespace app {

namespace {

class ActCommands : public Rows {
  public:
    explicit ActCommands(Shell& shell) : Rows(shell) {
        connect(&acts(), &Acts::changed, commands_, &CommandSet::refresh, Qt::QueuedConnection);
        addPutting();
        addLooking();
    }

  private:
    using Is = model::ActPart::Is;
    Acts& acts() { return editor_.acts(); }
    /// With one act that is looked at.
    Asked inOne(bool selected) {
        return [this, selected] { return canEdit() && acts().only() && (!selected || hasSelection()); };
    }
    void addPutting() {
        verb(
            "acts.add", tr("New act"), tr("A named set of what is there: rename it in Properties"), {},
            [this] { acts().add(); }, edits());
        verb(
            "acts.there", tr("In the act"),
            tr("What is selected is there in the act that is shown, and not without one"), {},
            [this] { acts().put(acts().only(), Is::There); }, inOne(true));
        verb(
            "acts.away", tr("Away in the act"), tr("What is selected is not there in the act that is shown"), {},
            [this] { acts().put(acts().only(), Is::Away); }, inOne(true));
        verb(
            "acts.unbound", tr("Not bound to the act"),
            tr("The act that is shown does not say any more whether what is selected is there"), {},
            [this] { acts().put(acts().only(), Is::AsItIs); }, inOne(true));
        verb(
            "acts.putBack", tr("Place and values as otherwise"),
            tr("What is selected stands in the act that is shown where it stands without it"), {},
            [this] { acts().putBack(acts().only()); }, inOne(true));
        toggle(
            "acts.work", tr("Work in the act"),
            tr("What is moved, set or placed from now on is so in the act that is shown only"), {},
            [this] { acts().work(acts().worked() ? base::ObjectId{} : acts().only()); },
            [this] { return editor_.isOpen() && acts().worked(); },
            [this] { return canEdit() && (acts().worked() || acts().only()); });
        verb(
            "acts.members", tr("Select what the act is about"), tr("All that it adds, takes, moves or sets otherwise"),
            {}, [this] { acts().selectMembers(acts().only()); }, [this] { return editor_.isOpen() && acts().only(); });
    }
    void addLooking() {
        const Asked some = [this] { return editor_.isOpen() && !acts().all().empty(); };
        verb(
            "acts.next", tr("Show the next act"), tr("What is there in it; after the last one all there is"),
            Qt::ALT | Qt::Key_A,
            [this] {
                const auto& all = acts().all();
                const auto now = std::find(all.begin(), all.end(), acts().only());
                const auto next = now == all.end() ? all.begin() : now + 1;
                if (acts().worked()) acts().work({});
                acts().show(next == all.end() ? std::set<base::ObjectId>{} : std::set<base::ObjectId>{*next});
            },
            some);
        verb(
            "acts.all", tr("Show all there is"), tr("Whatever act it belongs to"), {},
            [this] {
                if (acts().worked()) acts().work({});
                acts().show({});
            },
            some);
    }
};

}  // namespace

RowsPtr actCommands(Shell& shell) {
    return std::make_unique<ActCommands>(shell);
}

}  // namespace app
