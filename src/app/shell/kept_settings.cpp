#include "app/shell/kept_settings.h"
#include "app/shell/preferences.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"

#include <QSettings>
#include <QVariant>
#include <algorithm>
#include <functional>
#include <type_traits>

namespace app {

namespace {

struct Kept {
    QString name;
    std::function<QVariant()> now;
    std::function<void(const QVariant&)> take;
};

/// A member of a value that is read and set as a whole; an enumeration as its number, within what there is.
template <class Whole, class Member>
Kept kept(const QString& name, const std::function<Whole()>& whole, const std::function<void(const Whole&)>& set,
          const std::function<Member&(Whole&)>& member, int last = 0) {
    return {name,
            [=] {
                Whole now = whole();
                if constexpr (std::is_enum_v<Member>)
                    return QVariant(static_cast<int>(member(now)));
                else
                    return QVariant::fromValue(member(now));
            },
            [=](const QVariant& value) {
                Whole changed = whole();
                if constexpr (std::is_enum_v<Member>)
                    member(changed) = static_cast<Member>(std::clamp(value.toInt(), 0, last));
                else
                    member(changed) = value.value<Member>();
                set(changed);
            }};
}

std::vector<Kept> toolsOf(Editor& e) {
    const auto tool = [&e](const QString& name, auto member, int last = 0) {
        using Member = std::remove_reference_t<decltype(member(std::declval<Tools&>()))>;
        return kept<Tools, Member>(
            name, [&e] { return e.tools(); }, [&e](const Tools& t) { e.setTools(t); }, member, last);
    };
    const auto own = [&](const char* name, auto member, int last = 0) {
        return tool(
            QLatin1String(name), [member](Tools & t) -> auto& { return t.*member; }, last);
    };
    std::vector<Kept> all = {
        own("view/catchFlush", &Tools::catchFlush),
        own("view/seatWhenPlacing", &Tools::seatWhenPlacing),
        own("drag/followSlopes", &Tools::followSlopes),
        own("drag/uniform", &Tools::uniform),
        own("drag/onLattice", &Tools::onLattice),
        own("drag/fineness", &Tools::fineness, static_cast<int>(Fineness::VeryFine)),
        own("drag/contact", &Tools::contact),
        own("drag/seatAsSeen", &Tools::seatAsSeen),
        own("drag/seatOntoSeen", &Tools::seatOntoSeen),
        own("view/axes", &Tools::axes, static_cast<int>(ops::AxesMode::View)),
        tool("catch/hidden", [](Tools& t) -> bool& { return t.catching.hidden; }),
        tool("catch/protected", [](Tools& t) -> bool& { return t.catching.protectedOnes; }),
        tool("select/whole", [](Tools& t) -> bool& { return t.selecting.whole; }),
        tool("select/through", [](Tools& t) -> bool& { return t.selecting.through; }),
        tool(
            "select/shape", [](Tools& t) -> SelectShape& { return t.selecting.shape; },
            static_cast<int>(SelectShape::Lasso)),
    };
    for (std::size_t i = 0; i < 3; ++i) {
        all.push_back(tool(QString("view/step%1").arg(i + 1), [i](Tools& t) -> double& { return t.steps[i].value; }));
        all.push_back(tool(QString("view/stepOn%1").arg(i + 1), [i](Tools& t) -> bool& { return t.steps[i].on; }));
    }
    return all;
}

std::vector<Kept> keptOf(Editor& e) {
    const auto look = [&e](const char* name, auto member) {
        using Member = std::remove_reference_t<decltype(std::declval<Looks&>().*member)>;
        return kept<Looks, Member>(
            QLatin1String(name), [&e] { return e.looks(); }, [&e](const Looks& l) { e.setLooks(l); },
            [member](Looks& l) -> Member& { return l.*member; });
    };
    std::vector<Kept> all = toolsOf(e);
    for (Kept& one : std::vector<Kept>{look("looks/inset", &Looks::inset), look("looks/follow", &Looks::follow)})
        all.push_back(std::move(one));
    return all;
}

}  // namespace

void rememberSettings(Editor& editor) {
    QSettings settings;
    for (const Kept& one : keptOf(editor)) settings.setValue(one.name, one.now());
    keepPreferences(editor.preferences());
}

void restoreSettings(Editor& editor) {
    const QSettings settings;
    for (const Kept& one : keptOf(editor))
        if (settings.contains(one.name)) one.take(settings.value(one.name));
    editor.setPreferences(keptPreferences());
}

}  // namespace app
