#pragma once
// What the files in media/ are: of images their heads are read, of sounds all.
#include "check/facts.h"
#include "edit/session.h"

namespace io {

/// The files that are there now; what they are is looked at later. Sizes in pixels of PNG and JPEG; 0 of others.
check::Media mediaFacts(const edit::Session& session);

/// Another value when files came or went there.
std::int64_t mediaStamp(const edit::Session& session);

}  // namespace io
