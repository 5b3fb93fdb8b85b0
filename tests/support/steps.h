#pragma once
// Verbs run as steps, with what must hold of every one: a refusal leaves everything as it was, undo gives back the
// same bytes, and redo the others.
#include <QtGlobal>

#include "support/test_project.h"

namespace test {

template <class Verb>
auto asStep(TestProject& p, const Verb& verb) {
    const std::string before = p.bytes();
    edit::Draft draft(p.session(), "first", "Verb");
    auto result = verb(draft);
    if (!result) {
        draft.rollback();
        if (p.bytes() != before) qFatal("a refusal left something behind");
        return result;
    }
    if (!draft.commit()) qFatal("no step");
    const std::string after = p.bytes();
    if (after == before) return result;  // no step was made
    if (!p.session().undo() || p.bytes() != before) qFatal("undo gave other bytes");
    if (!p.session().redo() || p.bytes() != after) qFatal("redo gave other bytes");
    return result;
}

}  // namespace test
