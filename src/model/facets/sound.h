#pragma once
#include <string>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// Something that is heard from where the object stands.
struct Sound {
    enum class Is : std::uint8_t { Effect, Music, Spoken };
    std::string file;         ///< in media/
    Is is = Is::Effect;       ///< music is heard alike everywhere
    double gain = 1;          ///< times as loud as its file
    double innerMetres = 2;   ///< as loud as it is up to there
    double outerMetres = 20;  ///< not heard beyond
    bool loop = false;
    bool begins = false;  ///< by itself, as the level begins; else a cue begins it
    std::string words;    ///< what is spoken, to be read
    Unknown unknown;
    /// How loud at so many metres, 0..1 of its gain: evenly less from the inner to the outer distance.
    double shareAt(double metres) const;
    static const FacetType& type();
    friend bool operator==(const Sound&, const Sound&) = default;
};

}  // namespace model
