#include "app/panels/cues_form.h"

#include <QMenu>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/cues.h"
#include "rehearse/cue_set.h"

namespace app {

namespace {

/// Names of what there is, and what is said now though it may not be there.
std::vector<model::Choice> choicesOf(std::set<std::string> names, const std::string& now, const QString& none) {
    if (!now.empty()) names.insert(now);
    std::vector<model::Choice> all;
    if (!none.isEmpty()) all.push_back({"", none.toStdString()});
    for (const std::string& name : names) all.push_back({name, name});
    return all;
}

/// What objects have by a name.
struct Named {
    std::set<std::string> properties, outfits, slots, cues;
    void add(const model::Scene& scene, const model::Library& library, Slot s) {
        if (const model::Kind* kind = library.kind(scene.kind(s))) {
            for (const model::Property& p : kind->properties) properties.insert(p.name);
            for (const model::Outfit& outfit : kind->outfits) outfits.insert(outfit.name);
        }
        if (const model::Item* item = library.item(scene.item(s))) slots.insert(item->slots.begin(), item->slots.end());
        if (const auto* has = scene.facet<model::Cues>(s))
            for (const model::Cue& cue : has->all) cues.insert(cue.name);
    }
};

template <class Map>
std::set<std::string> keysOf(const Map& map) {
    std::set<std::string> keys;
    for (const auto& [key, value] : map) keys.insert(key);
    return keys;
}

/// A part of something that is kept with it.
std::shared_ptr<const void> within(const std::shared_ptr<const model::Cues>& keeps, const void* part) {
    return {keeps, part};
}

}  // namespace

CuesForm::CuesForm(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("cuesForm");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    const model::Member& all = *model::Cues::type().fields.find("all");
    cues_ =
        new PartsForm(editor_, all, [this](const auto& property, const auto& set) { return change(property, set); });
    cues_->setObjectName("cues.all");
    rows->addWidget(cues_);
    when_ = within(*cues_, *all.parts.fields, "when");
    then_ = within(*cues_, *all.parts.fields, "then");
    targets_ = within(*then_, *all.parts.fields->find("then")->parts.fields, "targets");
    for (PartsForm* form : {when_, then_, targets_}) rows->addWidget(form);
    when_->say([this](const void* part) {
        return toQt(model::textOf(*static_cast<const model::CueWhen*>(part), editor_.scene()));
    });
    then_->say([this](const void* part) {
        return toQt(model::textOf(*static_cast<const model::CueThen*>(part), editor_.scene(), true));
    });
    targets_->say([this](const void* part) { return nameOf(static_cast<const model::CueTarget*>(part)->object); });
    connect(cues_, &PartsForm::shown, this, [this](const void* part) {
        for (PartsForm* form : {when_, then_}) form->setVisible(part != nullptr);
        if (part == nullptr) return targets_->hide();
        when_->show(app::within(shown_, part));
        then_->show(app::within(shown_, part));
    });
    connect(when_, &PartsForm::shown, this, [this](const void* part) {
        if (part != nullptr) offerFor(*static_cast<const model::CueWhen*>(part));
    });
    connect(then_, &PartsForm::shown, this, [this](const void* part) {
        const auto* then = static_cast<const model::CueThen*>(part);
        if (then != nullptr) offerFor(*then);
        const bool any = then != nullptr && then->hasTargets() && then->to == model::CueThen::To::These;
        targets_->setVisible(any);
        if (any) targets_->show(app::within(shown_, part));
    });
    auto* point = button<QToolButton>("cueTargets", tr("Point at them"),
                                      tr("Click objects in the view: each becomes one more, or goes; Esc ends it"));
    targets_->addAct(point);
    targets_->findChild<QToolButton*>("targetsAdd")->hide();
    targets_->form().hide();
    connect(point, &QToolButton::clicked, this, &CuesForm::pointAtTargets);
    const auto link = [this](PartsForm* form, const model::Fields* fields) {
        letPoint(form->form(), [form, fields](const std::string& key, base::ObjectId to) {
            return form->changeChosen(
                [&](void* part) { return model::setMember(*fields, part, *fields->find(key), model::objectLink(to)); });
        });
    };
    link(when_, all.parts.fields->find("when")->parts.fields);
    link(then_, all.parts.fields->find("then")->parts.fields);
}

PartsForm* CuesForm::within(PartsForm& outer, const model::Fields& fields, const char* key) {
    auto* form = new PartsForm(editor_, *fields.find(key),
                               [&outer](const model::Property&, const auto& set) { return outer.changeChosen(set); });
    form->setObjectName(QString("cues.") + key);
    return form;
}

/// What the chosen condition can be given.
void CuesForm::offerFor(const model::CueWhen& when) {
    Named has;
    if (const Slot of = editor_.scene().find(when.object ? when.object : id_); of != kNoSlot)
        has.add(editor_.scene(), editor_.session().library(), of);
    FieldsForm& form = when_->form();
    form.offerOnly("cue", choicesOf(has.cues, when.cue, tr("any of them")));
    form.offer("property", choicesOf(has.properties, "", {}));
    form.show(&when);
}

/// What the chosen effect can be given.
void CuesForm::offerFor(const model::CueThen& then) {
    using Does = model::CueThen::Does;
    const model::Library& library = editor_.session().library();
    const model::Scene& scene = editor_.scene();
    Named has;
    for (const Slot target : rehearse::targetsOf(scene, scene.find(id_), then)) has.add(scene, library, target);
    const auto& scenes = editor_.session().project().sceneNames;
    const auto looks = then.does == Does::Surface ? keysOf(library.surfaces())
                       : then.does == Does::Guise ? keysOf(library.guises())
                                                  : has.outfits;
    FieldsForm& form = then_->form();
    form.offerOnly("look", choicesOf(looks, then.look, tr("as at the start")));
    form.offerOnly("slot", choicesOf(has.slots, then.slot, tr("all of it")));
    form.offerOnly("next", choicesOf({scenes.begin(), scenes.end()}, then.next, tr("none")));
    form.offerOnly("cue", choicesOf(has.cues, then.cue, tr("all of them")));
    form.offer("property", choicesOf(has.properties, "", {}));
    form.show(&then);
}

QString CuesForm::nameOf(base::ObjectId id) const {
    const Slot s = editor_.isOpen() && id ? editor_.scene().find(id) : kNoSlot;
    return s == kNoSlot ? tr("what is gone") : toQt(editor_.scene().nameText(s));
}

void CuesForm::show(base::ObjectId id) {
    const Slot slot = id ? editor_.scene().find(id) : kNoSlot;
    const auto* cues = slot != kNoSlot ? editor_.scene().facet<model::Cues>(slot) : nullptr;
    setVisible(cues != nullptr);
    if (cues == nullptr) {
        id_ = {};
        return shown_.reset();
    }
    if (id_ == id && shown_ && *shown_ == *cues) return;
    id_ = id;
    const auto before =
        std::exchange(shown_, std::make_shared<const model::Cues>(*cues));  // until the lists have changed
    cues_->show(shown_);
}

Status CuesForm::change(const model::Property& property, const std::function<Status(void*)>& set) {
    if (!id_ || !shown_) return {};
    const base::ObjectId id = id_;
    Status done;
    editor_.run("Set " + base::lowered(property.label) + " of " + ops::describe(editor_.scene(), {&id, 1}),
                [&](edit::Draft& draft) {
                    return done = ops::changeCues(draft, id, [&](model::Cues& cues) { return set(&cues); });
                });
    return done;
}

void CuesForm::letPoint(FieldsForm& form, std::function<Status(const std::string&, base::ObjectId)> link) {
    connect(&form, &PropertyRows::pointAsked, this, [this, link](const QString& name) {
        editor_.asking().askObject([](Slot) { return true; },
                                   [this, link, key = name.toStdString()](base::ObjectId to) {
                                       (void)link(key, to);
                                       show(id_);
                                   });
    });
    connect(&form, &PropertyRows::goTo, this, [this](base::ObjectId id) { editor_.select({id}); });
    connect(&form, &PropertyRows::targetsAsked, this, [this, link](const QString& name, QMenu* menu) {
        constexpr int kMost = 30;
        int n = 0;
        for (const Slot s : editor_.scene().subtree(kNoSlot)) {
            const model::DetailPtr& detail = editor_.scene().detail(s);
            // What has a meaning comes first to mind: zones, goals, what is used, other cues.
            if (!detail || detail->facets.empty() || n >= kMost) continue;
            ++n;
            menu->addAction(toQt(editor_.scene().nameText(s)), this,
                            [this, link, key = name.toStdString(), to = editor_.scene().id(s)] {
                                (void)link(key, to);
                                show(id_);
                            });
        }
        if (n == 0) menu->addAction(tr("Nothing in the scene fits"))->setEnabled(false);
    });
}

/// One after the other, until Esc.
void CuesForm::pointAtTargets() {
    const base::ObjectId owner = id_;
    editor_.asking().askObject([](Slot) { return true; },
                               [this, owner](base::ObjectId to) {
                                   if (id_ != owner) return;
                                   (void)then_->changeChosen([to](void* part) -> Status {
                                       auto& targets = static_cast<model::CueThen*>(part)->targets;
                                       const auto had = std::erase_if(
                                           targets, [&](const model::CueTarget& t) { return t.object == to; });
                                       if (had == 0) targets.push_back({to, {}});
                                       return {};
                                   });
                                   show(id_);
                                   pointAtTargets();
                               });
}

}  // namespace app
