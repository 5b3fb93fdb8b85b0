#include "model/facets/note.h"

#include "model/facet_builder.h"

namespace model {

const FacetType& Note::type() {
    static const FacetType type = [] {
        FieldsOf<Note> f;
        f.text("text", "Text", &Note::text, PropertyType::LongText).always = true;
        FacetType made = facetTypeOf<Note>("note", "Note", "A remark for people; the game does not care", f.done());
        made.bare = true;
        return made;
    }();
    return type;
}

}  // namespace model
