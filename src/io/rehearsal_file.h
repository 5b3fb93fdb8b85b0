#pragma once
// Traces of rehearsals as files: docs/formats/rehearsal.md. Inputs and written walks are plain text of their own
// (rehearse/inputs.h, rehearse/plan.h).
#include "io/json_text.h"
#include "rehearse/trace.h"

namespace io {

/// A header line, then a line for each entry, each tenth of a second of the way, and each thing that moved.
std::string formatTrace(const rehearse::Trace& trace);
/// Errors: BadInput naming the line; Unsupported for a newer version.
base::Result<rehearse::Trace> parseTrace(std::string_view text, const std::string& file);
/// An entry for other programs, with names and what it says.
Json toJson(const rehearse::Entry& entry, const rehearse::Level& level);

}  // namespace io
