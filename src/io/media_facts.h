#pragma once
// What the files in media/ are: of images their heads are read, of sounds all.
#include <map>
#include <string>

#include "check/facts.h"
#include "edit/session.h"

namespace io {

/// By name. Sizes in pixels of PNG and JPEG; 0 of others.
std::map<std::string, check::MediaFacts> mediaFacts(const edit::Session& session);

/// Another value when files came or went there.
std::int64_t mediaStamp(const edit::Session& session);

}  // namespace io
