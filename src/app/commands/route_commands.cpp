// Routes: drawn, changed, what stops at them and stands along them.
#include "app/commands/all.h"
#include "app/names.h"
#include "app/panels/route_panel.h"
#include "app/shell/sight.h"
#include "app/view/view_widget.h"
#include "edit/draft.h"
#include "ops/routes.h"

namespace app {

namespace {

using base::ObjectId;
using base::Status;

class RouteCommands : public Rows {
  public:
    explicit RouteCommands(Shell& shell) : Rows(shell) {
        connect(&shell_.route, &RoutePanel::putAsked, this, &RouteCommands::putAlong);
        connect(&shell_.route, &RoutePanel::copyAsked, this, &RouteCommands::copyAlong);
        connect(&shell_.route, &RoutePanel::lookAsked, this, [this](const base::Vec3& place) { lookAt(place); });
        hand("route.draw", tr("Draw a route"),
             tr("Click on surfaces, point by point: the selected route is drawn on, else a new one"),
             Qt::ALT | Qt::Key_R, Tool::Route);
        toggle(
            "desk.route", tr("Route"), tr("What the selected route measures, and what stands along it"), {},
            [this] { shell_.toggleDesk(shell_.route); }, [this] { return shell_.deskShows(shell_.route); }, open());
        addChanges();
        addStops();
    }

  private:
    Asked one() {
        return [this] { return canEdit() && selectedRoute(editor_) != kNoSlot; };
    }
    Asked withOthers() {
        return [this] { return canEdit() && selectedRoute(editor_) != kNoSlot && editor_.selection().size() > 1; };
    }
    ObjectId route() const { return editor_.scene().id(selectedRoute(editor_)); }
    std::vector<ObjectId> others() const {
        std::vector<ObjectId> ids = editor_.selection();
        std::erase(ids, route());
        return ids;
    }
    bool step(const std::string& what, const std::function<Status(edit::Draft&)>& verb) {
        const ObjectId id = route();
        return editor_.run(what + " " + ops::describe(editor_.scene(), {&id, 1}), verb);
    }
    void addChanges();
    void addStops();
    void split();
    void join();
    void seat(bool each);
    void putAlong();
    void copyAlong();
    void lookAt(const base::Vec3& place) {
        render::Camera camera = view().camera();
        camera.eye += place - camera.eye - camera.forward() * view().context().focusDistance();
        view().eye().jumpTo(camera);
    }
};

void RouteCommands::addChanges() {
    verb(
        "route.reverse", tr("The other way round"), tr("Points, stops, and which way those are passed"), {},
        [this] { step("Turn about", [id = route()](edit::Draft& d) { return ops::reverseRoute(d, id); }); }, one());
    verb(
        "route.split", tr("Split at the point"),
        tr("In two at the point that was chosen last; a closed one is opened there"), {}, [this] { split(); }, one());
    verb(
        "route.join", tr("Join routes"), tr("Two selected routes become one, at the ends that are nearest"), {},
        [this] { join(); }, withOthers());
    verb(
        "route.removePoint", tr("Take the point out"), tr("The point that was chosen last"), {},
        [this] {
            step("Take a point out of", [id = route(), at = editor_.chosenPoint()](edit::Draft& d) {
                return ops::removeRoutePoints(d, id, {at});
            });
        },
        one());
    verb(
        "route.simplify", tr("Leave out points"),
        tr("Those without which the route stays within five centimetres of where it goes"), {},
        [this] {
            constexpr double kWithin = 0.05;
            std::size_t went = 0;
            const bool made = step("Leave out points of", [&, id = route()](edit::Draft& d) -> Status {
                auto done = ops::simplifyRoute(d, id, kWithin);
                if (!done) return tl::unexpected(done.error());
                went = *done;
                return {};
            });
            if (made && went == 0) editor_.say(tr("The route needs all of its points."));
        },
        one());
    verb(
        "route.seat", tr("Down as a whole"), tr("The route goes down until its first point touches"), {},
        [this] { seat(false); }, one());
    verb(
        "route.seatEach", tr("Down point by point"), tr("Each point onto what is below it"), {}, [this] { seat(true); },
        one());
}

void RouteCommands::addStops() {
    verb(
        "route.addStops", tr("Make stops of the selection"),
        tr("The other selected objects become stops of the route, each where it lies along it"), {},
        [this] {
            step("Stops of", [id = route(), ids = others()](edit::Draft& d) { return ops::addStops(d, id, ids); });
        },
        withOthers());
    verb(
        "route.removeStops", tr("No stops any more"), tr("The other selected objects are no stops of the route"), {},
        [this] {
            step("Fewer stops of",
                 [id = route(), ids = others()](edit::Draft& d) { return ops::removeStops(d, id, ids); });
        },
        withOthers());
    verb(
        "route.put", tr("Put along the route"), tr("As the desk’s page Route says: spacing, aside, turned"), {},
        [this] { putAlong(); }, withOthers());
    verb(
        "route.copy", tr("Copies along the route"), tr("As the desk’s page Route says: spacing, number, aside"), {},
        [this] { copyAlong(); }, withOthers());
}

void RouteCommands::split() {
    const std::size_t at = editor_.chosenPoint();
    ObjectId made;
    if (step("Split", [&, id = route()](edit::Draft& d) -> Status {
            auto other = ops::splitRoute(d, id, at);
            if (!other) return tl::unexpected(other.error());
            made = *other;
            return {};
        }))
        editor_.select({made});
}

void RouteCommands::join() {
    const ObjectId into = editor_.selection().front(), other = editor_.selection().back();
    if (editor_.selection().size() != 2) return editor_.say(tr("Select the two routes that are to be one."));
    if (editor_.run("Join " + ops::describe(editor_.scene(), editor_.selection()),
                    [&](edit::Draft& d) { return ops::joinRoutes(d, into, other); }))
        editor_.select({into});
}

void RouteCommands::seat(bool each) {
    if (editor_.sight().index() == nullptr) return editor_.say(tr("The scene is still being taken in."));
    step("Put down",
         [this, each, id = route()](edit::Draft& d) { return ops::seatRoute(d, *editor_.sight().index(), id, each); });
}

void RouteCommands::putAlong() {
    if (selectedRoute(editor_) == kNoSlot || others().empty())
        return editor_.say(tr("Select what is to stand along it, and the route last."));
    step("Put along", [this, id = route(), ids = others()](edit::Draft& d) {
        return ops::putAlong(d, id, ids, shell_.route.along());
    });
}

void RouteCommands::copyAlong() {
    if (selectedRoute(editor_) == kNoSlot || others().size() != 1)
        return editor_.say(tr("Select the one object that is to be repeated, and the route last."));
    step("Copies along", [this, id = route(), of = others().front()](edit::Draft& d) -> Status {
        auto all = ops::copyAlong(d, id, of, shell_.route.along());
        return all ? Status{} : Status(tl::unexpected(all.error()));
    });
}

}  // namespace

RowsPtr routeCommands(Shell& shell) {
    return std::make_unique<RouteCommands>(shell);
}

}  // namespace app
