#include "model/facets/sound.h"

#include <algorithm>

#include "model/facet_builder.h"

namespace model {
namespace {

base::Status reachesFarther(const void* facet) {
    const Sound& sound = FieldsOf<Sound>::self(facet);
    if (sound.outerMetres >= sound.innerMetres) return {};
    return base::fail(base::ErrorCode::BadInput, "A sound is heard at least as far as it is loud.");
}

}  // namespace

double Sound::shareAt(double metres) const {
    if (is == Is::Music || metres <= innerMetres) return 1;
    if (metres >= outerMetres) return 0;
    return 1 - (metres - innerMetres) / (outerMetres - innerMetres);
}

const FacetType& Sound::type() {
    static const FacetType type = [] {
        FieldsOf<Sound> f;
        const auto placed = f.when([](const Sound& s) { return s.is != Is::Music; });
        f.text("file", "File", &Sound::file, PropertyType::Media).always = true;
        f.last().unit = "sound";
        f.last().help = "WAV, FLAC or Ogg in the project's folder media";
        f.word("is", "Is", &Sound::is, {"effect", "music", "spoken"});
        f.real("gain", "Loudness", &Sound::gain, "×", 0, 16).property.step = 0.1;
        f.real("inner", "Full within", &Sound::innerMetres, "m", 0, kLargestMetres).shown = placed;
        f.real("outer", "Heard within", &Sound::outerMetres, "m", 0.01, kLargestMetres).shown = placed;
        f.flag("loop", "Again and again", &Sound::loop);
        f.flag("begins", "By itself", &Sound::begins).property.help = "As the level begins; else a cue begins it";
        f.text("words", "Words", &Sound::words, PropertyType::LongText).shown =
            f.when([](const Sound& s) { return s.is == Is::Spoken; });
        FacetType made = facetTypeOf<Sound>("sound", "Sound", "Something that is heard from there", f.done());
        made.check = reachesFarther;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
