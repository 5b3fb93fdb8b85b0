#include "model/assortment.h"

#include "model/value_reader.h"

namespace model {
namespace {

constexpr double kMostShare = 1e6, kLeastCell = 0.01, kMostCell = 1000;
constexpr char kLetters[] = "nesw";

template <class Known>
void keepUnknown(const ValueMap& map, const Known& known, ValueMap& unknown) {
    for (const auto& [key, value] : map)
        if (std::find(std::begin(known), std::end(known), key) == std::end(known)) setValue(unknown, key, value);
}

}  // namespace

Mix mixFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    Mix mix;
    mix.name = name;
    if (const Value* value = valueOf(map, "items")) {
        const auto* shares = std::get_if<ValueMap>(&value->data);
        if (shares == nullptr) read.say("items", "is no object of items and shares.");
        for (const auto& [item, share] : shares != nullptr ? *shares : ValueMap{}) {
            double room = 0;
            const double* given = asNumber(share, room);
            if (item.empty() || given == nullptr || !(*given > 0 && *given <= kMostShare))
                read.say("items", "“" + item + "” has no share above 0.");
            else
                mix.shares[item] = *given;
        }
    }
    keepUnknown(map, std::array<std::string_view, 2>{"name", "items"}, mix.unknown);
    return mix;
}

ValueMap toValues(const Mix& mix) {
    ValueMap shares;
    for (const auto& [item, share] : mix.shares) shares.emplace_back(item, Value{share});
    ValueMap map = {{"items", Value{std::move(shares)}}};
    map.insert(map.end(), mix.unknown.begin(), mix.unknown.end());
    return map;
}

std::uint8_t turned(std::uint8_t sides, int quarters) {
    // Seen from above to the left: east comes to north, north to west, west to south, south to east.
    for (int i = (quarters % 4 + 4) % 4; i > 0; --i)
        sides = static_cast<std::uint8_t>((sides >> 1 | (sides & kNorth) << 3) & 15);
    return sides;
}

const PieceSet::Piece* PieceSet::pieceOf(std::string_view item) const {
    for (const Piece& piece : pieces)
        if (piece.item == item) return &piece;
    return nullptr;
}

PieceSet pieceSetFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    PieceSet set;
    set.name = name;
    read.number("cell", kLeastCell, kMostCell, set.cellMetres);
    if (const Value* value = valueOf(map, "pieces")) {
        const auto* all = std::get_if<ValueMap>(&value->data);
        if (all == nullptr) read.say("pieces", "is no object of items and the sides where they go on.");
        for (const auto& [item, joins] : all != nullptr ? *all : ValueMap{}) {
            const auto* letters = std::get_if<std::string>(&joins.data);
            PieceSet::Piece piece{item, 0};
            bool fine = letters != nullptr && !item.empty();
            for (const char letter : fine ? *letters : std::string()) {
                const auto at = std::string_view(kLetters).find(letter);
                fine = fine && at != std::string_view::npos;
                if (fine) piece.joins = static_cast<std::uint8_t>(piece.joins | 1 << at);
            }
            if (fine)
                set.pieces.push_back(piece);
            else
                read.say("pieces", "“" + item + "” goes on at sides of the letters n, e, s and w.");
        }
    }
    keepUnknown(map, std::array<std::string_view, 3>{"name", "cell", "pieces"}, set.unknown);
    return set;
}

ValueMap toValues(const PieceSet& set) {
    ValueMap pieces;
    for (const PieceSet::Piece& piece : set.pieces) pieces.emplace_back(piece.item, Value{sidesText(piece.joins)});
    ValueMap map = {{"cell", Value{set.cellMetres}}, {"pieces", Value{std::move(pieces)}}};
    map.insert(map.end(), set.unknown.begin(), set.unknown.end());
    return map;
}

std::string sidesText(std::uint8_t sides) {
    std::string text;
    for (int i = 0; i < 4; ++i)
        if ((sides >> i & 1) != 0) text += kLetters[i];
    return text;
}

}  // namespace model
