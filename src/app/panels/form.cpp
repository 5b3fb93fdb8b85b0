#include "app/panels/form.h"

#include <QMetaMethod>
#include <algorithm>

#include "app/names.h"
#include "edit/session.h"
#include "ops/records.h"

namespace app {

using MaybeValue = std::optional<model::Value>;
using Taken = base::Result<MaybeValue>;

Form::Form(Editor& editor, Set set, QWidget* parent)
    : PropertyRows(editor, parent), editor_(editor), set_(std::move(set)) {
    connect(this, &PropertyRows::typed, this, [this](const QString& name, const QString& text) {
        take(name, [&](const PropertyShown& s) -> Taken {
            if (s.optional && text.trimmed().isEmpty()) return MaybeValue();
            auto value = ops::typedValue(editor_.session().library(), s.property, text.toStdString(),
                                         s.value.value_or(s.optional ? model::defaultOf(s.property) : model::Value{}));
            if (!value) return tl::unexpected(value.error());
            return MaybeValue(std::move(*value));
        });
    });
    connect(this, &PropertyRows::chosen, this, [this](const QString& name, const model::Value& value) {
        take(name, [&](const PropertyShown&) { return Taken(value); });
    });
    connect(this, &PropertyRows::resetAsked, this,
            [this](const QString& name) { take(name, [](const PropertyShown&) { return Taken(MaybeValue()); }); });
}

void Form::show(std::vector<PropertyShown> shown) {
    shown_ = std::move(shown);
    PropertyRows::show(shown_);
}

void Form::take(const QString& name, const std::function<Taken(const PropertyShown&)>& to) {
    const std::string key = name.toStdString();
    const auto place =
        std::find_if(shown_.begin(), shown_.end(), [&](const auto& s) { return s.property.name == key; });
    if (place == shown_.end()) return;
    const PropertyShown one = *place;  // setting it may show others
    const Taken value = to(one);
    const Status done = value ? set_(one.property, *value) : Status(tl::unexpected(value.error()));
    if (!done && isSignalConnected(QMetaMethod::fromSignal(&Form::refused)))
        Q_EMIT refused(QString::fromStdString(done.error().message));
    else
        editor_.report(done);
    PropertyRows::show(shown_);
}

FieldsForm::FieldsForm(Editor& editor, const model::Fields& fields, Change change, QWidget* parent)
    : Form(
          editor,
          [&fields, change = std::move(change)](const model::Property& property, const MaybeValue& value) {
              const model::Member& member = *fields.find(property.name);
              return change(property, [&](void* thing) -> Status {
                  if (!value && member.unset) return member.unset(thing), Status{};
                  return model::setMember(fields, thing, member, value.value_or(model::defaultOf(property)));
              });
          },
          parent),
      fields_(fields) {}

void FieldsForm::offer(const std::string& key, std::vector<model::Choice> choices) {
    put({key, std::move(choices), false});
}

void FieldsForm::offerOnly(const std::string& key, std::vector<model::Choice> choices) {
    put({key, std::move(choices), true});
}

void FieldsForm::put(Offer offer) {
    std::erase_if(offers_, [&](const Offer& held) { return held.key == offer.key; });
    offers_.push_back(std::move(offer));
}

void FieldsForm::show(const std::vector<const void*>& things) {
    const void* thing = things.front();
    std::vector<PropertyShown> shown;
    for (const model::Member& member : fields_.members) {
        if (member.parts.fields != nullptr || (member.shown && !member.shown(thing))) continue;
        if (!member.inField || leftOut_.contains(member.property.name)) continue;
        PropertyShown one;
        one.property = member.property;
        one.choices = member.property.choices;
        one.value = member.get(thing);
        one.optional = member.optional;
        if (!one.value && !one.optional) one.value = model::defaultOf(member.property);
        // A text of its own is no news.
        one.own = one.value && member.property.type != model::PropertyType::Text &&
                  member.get(thing) != member.property.fallback;
        for (const void* other : things)
            if (member.get(other) != member.get(thing)) one.value.reset(), one.optional = false;
        for (const Offer& offer : offers_) {
            if (offer.key != member.property.name) continue;
            one.choices = offer.choices;
            if (!offer.isAll) continue;
            one.property.type = model::PropertyType::Choice;
            one.property.choices = offer.choices;
        }
        shown.push_back(std::move(one));
    }
    Form::show(std::move(shown));
}

}  // namespace app
