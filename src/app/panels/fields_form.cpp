#include "app/panels/fields_form.h"

#include <algorithm>

#include "app/names.h"
#include "ops/records.h"

namespace app {

FieldsForm::FieldsForm(Editor& editor, const model::Fields& fields, Set set, QWidget* parent)
    : PropertyRows(editor, parent), editor_(editor), fields_(fields), set_(std::move(set)) {
    using Read = base::Result<model::Value>;
    connect(this, &PropertyRows::typed, this, [this](const QString& name, const QString& text) {
        take(name, [&](const PropertyShown& s) {
            return ops::typedValue(editor_.session().library(), s.property, text.toStdString(),
                                   s.value.value_or(model::Value{}));
        });
    });
    connect(this, &PropertyRows::chosen, this, [this](const QString& name, const model::Value& value) {
        take(name, [&](const PropertyShown&) { return Read(value); });
    });
    connect(this, &PropertyRows::resetAsked, this, [this](const QString& name) {
        take(name, [](const PropertyShown& s) { return Read(model::defaultOf(s.property)); });
    });
}

void FieldsForm::offer(const std::string& key, std::vector<model::Choice> choices) {
    std::erase_if(offers_, [&](const auto& offer) { return offer.first == key; });
    offers_.emplace_back(key, std::move(choices));
}

void FieldsForm::show(const void* thing) {
    shown_.clear();
    for (const model::Member& member : fields_.members) {
        if (member.shown && !member.shown(thing)) continue;
        PropertyShown one;
        one.property = member.property;
        one.value = member.get(thing);
        one.own = member.property.type != model::PropertyType::Text && one.value != member.property.fallback;
        for (const auto& [key, choices] : offers_)
            if (key == member.property.name) one.choices = choices;
        shown_.push_back(std::move(one));
    }
    PropertyRows::show(shown_);
}

void FieldsForm::take(const QString& name, const std::function<base::Result<model::Value>(const PropertyShown&)>& to) {
    const std::string key = name.toStdString();
    const auto shown =
        std::find_if(shown_.begin(), shown_.end(), [&](const auto& s) { return s.property.name == key; });
    if (shown == shown_.end()) return;
    const auto value = to(*shown);
    editor_.report(value ? set_(*fields_.find(key), *value) : Status(tl::unexpected(value.error())));
    PropertyRows::show(shown_);  // as it is until the thing is shown anew
}

}  // namespace app
