#include "app/shell/kept_settings.h"

#include <QSettings>
#include <QVariant>
#include <algorithm>
#include <functional>

namespace app {

namespace {

struct Kept {
    QString name;
    std::function<QVariant()> now;
    std::function<void(const QVariant&)> take;
};

/// One of a struct that is read and set as a whole.
template <class Whole, class Member>
Kept memberOf(const char* name, const std::function<Whole()>& whole, const std::function<void(const Whole&)>& set,
              Member Whole::*member) {
    return {QLatin1String(name), [=] { return QVariant::fromValue(whole().*member); },
            [=](const QVariant& value) {
                Whole changed = whole();
                changed.*member = value.value<Member>();
                set(changed);
            }};
}

std::vector<Kept> stepsOf(Editor& e) {
    std::vector<Kept> all;
    for (const render::Task task : {render::Task::Slide, render::Task::Turn, render::Task::Fit}) {
        const std::function<StepSetting()> whole = [&e, task] { return e.step(task); };
        const std::function<void(const StepSetting&)> set = [&e, task](const StepSetting& s) { e.setStep(task, s); };
        for (Kept& kept : std::vector<Kept>{memberOf("view/step", whole, set, &StepSetting::value),
                                            memberOf("view/stepOn", whole, set, &StepSetting::on)}) {
            kept.name += QString::number(static_cast<int>(task));
            all.push_back(std::move(kept));
        }
    }
    return all;
}

std::vector<Kept> keptOf(Editor& e) {
    const auto flag = [&e](const char* name, bool (Editor::*get)() const, void (Editor::*set)(bool)) {
        return Kept{QLatin1String(name), [=, &e] { return QVariant((e.*get)()); },
                    [=, &e](const QVariant& value) { (e.*set)(value.toBool()); }};
    };
    const std::function<Looks()> looks = [&e] { return e.looks(); };
    const std::function<void(const Looks&)> setLooks = [&e](const Looks& l) { e.setLooks(l); };
    const std::function<Catching()> catching = [&e] { return e.catching(); };
    const std::function<void(const Catching&)> setCatching = [&e](const Catching& c) { e.setCatching(c); };
    const std::function<Selecting()> how = [&e] { return e.selecting(); };
    const std::function<void(const Selecting&)> setHow = [&e](const Selecting& s) { e.setSelecting(s); };
    std::vector<Kept> all = {
        flag("view/catchFlush", &Editor::catchFlush, &Editor::setCatchFlush),
        flag("view/seatWhenPlacing", &Editor::seatWhenPlacing, &Editor::setSeatWhenPlacing),
        flag("drag/followSlopes", &Editor::followSlopes, &Editor::setFollowSlopes),
        flag("drag/uniform", &Editor::uniform, &Editor::setUniform),
        flag("drag/onLattice", &Editor::onLattice, &Editor::setOnLattice),
        flag("drag/seatByCollision", &Editor::seatByCollision, &Editor::setSeatByCollision),
        flag("drag/seatOntoCollision", &Editor::seatOntoCollision, &Editor::setSeatOntoCollision),
        memberOf("catch/hidden", catching, setCatching, &Catching::hidden),
        memberOf("catch/protected", catching, setCatching, &Catching::protectedOnes),
        memberOf("looks/inset", looks, setLooks, &Looks::inset),
        memberOf("looks/glide", looks, setLooks, &Looks::glide),
        memberOf("looks/follow", looks, setLooks, &Looks::follow),
        memberOf("select/whole", how, setHow, &Selecting::whole),
        memberOf("select/through", how, setHow, &Selecting::through),
        {"looks/handleSize", [&e] { return QVariant(e.looks().handleSize); },
         [&e](const QVariant& value) {
             Looks changed = e.looks();
             changed.handleSize = std::clamp(value.toDouble(), 0.5, 2.5);
             e.setLooks(changed);
         }},
        {"select/shape", [&e] { return QVariant(static_cast<int>(e.selecting().shape)); },
         [&e](const QVariant& value) {
             Selecting changed = e.selecting();
             changed.shape = static_cast<SelectShape>(std::clamp(value.toInt(), 0, 2));
             e.setSelecting(changed);
         }},
        {"view/axes", [&e] { return QVariant(static_cast<int>(e.axesMode())); },
         [&e](const QVariant& value) { e.setAxesMode(static_cast<ops::AxesMode>(std::clamp(value.toInt(), 0, 3))); }},
        {"window/theme", [&e] { return QVariant(e.theme().name); },
         [&e](const QVariant& value) { e.setTheme(value.toString() == oat().name ? oat() : dusk()); }}};
    for (Kept& kept : stepsOf(e)) all.push_back(std::move(kept));
    return all;
}

}  // namespace

void rememberSettings(Editor& editor) {
    QSettings settings;
    for (const Kept& kept : keptOf(editor)) settings.setValue(kept.name, kept.now());
}

void restoreSettings(Editor& editor) {
    const QSettings settings;
    for (const Kept& kept : keptOf(editor))
        if (settings.contains(kept.name)) kept.take(settings.value(kept.name));
}

}  // namespace app
