// Routes: drawn, changed, what stops at them and stands along them.
#include "app/commands/all.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/route_panel.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/view_widget.h"
#include "edit/draft.h"
#include "ops/along.h"
#include "ops/array.h"
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
        connect(&shell_.route, &RoutePanel::moveAsked, this, &RouteCommands::moveAlong);
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
    void fork();
    void broom();
    void array();
    void moveAlong(const QString& to);
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
        "route.fork", tr("Fork to the other route"),
        tr("From the point that was chosen last one can go on along the other selected route"), {}, [this] { fork(); },
        withOthers());
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
        "route.array", tr("Copies that stay along it"),
        tr("The other selected objects become an array that follows when the route changes; its numbers are then in "
           "Properties"),
        {}, [this] { array(); }, withOthers());
    verb(
        "route.broom", tr("Broom along the route"),
        tr("As the broom’s page says, from one end to the other; aside as the desk’s page Route says"), {},
        [this] { broom(); }, one());
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

void RouteCommands::fork() {
    if (others().size() != 1) return editor_.say(tr("Select the route to go on along, and the one that forks last."));
    step("Fork of", [point = editor_.chosenPoint(), id = route(), to = others().front()](edit::Draft& d) {
        return ops::addFork(d, id, point, to);
    });
}

void RouteCommands::array() {
    if (others().empty()) return editor_.say(tr("Select what is to be repeated, and the route last."));
    const ops::Along& along = shell_.route.along();
    model::Array array = editor_.tools().arrays[static_cast<std::size_t>(model::Array::Shape::Route)];
    array.fromMetres = along.from;
    array.everyMetres = along.spacing;
    array.turned = along.turned;
    if (along.count > 0) array.counts[0] = static_cast<int>(along.count);
    ObjectId made;
    if (step("Copies along", [&, id = route(), ids = others()](edit::Draft& d) -> Status {
            auto all = ops::makeArrayAlong(d, ids, id, array, along.aside, along.up);
            if (!all) return tl::unexpected(all.error());
            made = *all;
            return {};
        }))
        editor_.select({made});
}

void RouteCommands::broom() {
    if (editor_.sight().index() == nullptr) return editor_.say(tr("The scene is still being taken in."));
    const ops::BroomSettings& settings = editor_.tools().broom;
    const shape::Curve curve = query::curveOf(editor_.scene(), selectedRoute(editor_));
    std::vector<ObjectId> met;
    const bool made = step("Broom along", [&](edit::Draft& d) -> Status {
        ops::Broom broom(d, *editor_.sight().index(), settings, editor_.entered());
        if (Status swept = ops::sweepAlong(broom, curve, settings.radiusMetres, shell_.route.along().aside,
                                           *editor_.sight().index(), editor_.scene());
            !swept)
            return swept;
        met = broom.met();
        return {};
    });
    if (!made) return;
    if (settings.verb == ops::BroomVerb::Select) editor_.select(met);
    editor_.say(met.empty() ? tr("The broom met nothing that fits.")
                            : counted(met.size(), tr("object"), tr("objects")));
}

void RouteCommands::moveAlong(const QString& written) {
    if (selectedRoute(editor_) == kNoSlot || others().empty()) return;
    const shape::Curve curve = query::curveOf(editor_.scene(), selectedRoute(editor_));
    const Slot first = editor_.scene().find(others().front());
    const auto to =
        ops::placeAlong(written.toStdString(), curve, curve.nearest(editor_.scene().world(first).translation).metres);
    if (!to) return void(editor_.report(tl::unexpected(to.error())));
    step("Along", [id = route(), ids = others(), to = *to](edit::Draft& d) { return ops::moveAlong(d, id, ids, to); });
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
