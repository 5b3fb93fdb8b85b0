#pragma once
// What a project keeps of items that go together: mixes, out of which one is drawn by chance, and sets of pieces, of
// which the one is chosen that fits its neighbours. Values.
#include <cstdint>
#include <map>
#include <string>
#include <vector>

#include "model/data.h"

namespace model {

/// Several items with shares.
struct Mix {
    std::string name;
    std::map<std::string, double, std::less<>> shares;  ///< by item; what each is of their sum
    ValueMap unknown;                                   ///< members of a newer version, kept
    friend bool operator==(const Mix&, const Mix&) = default;
};
Mix mixFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems);
/// Without its name, which is the entry's key.
ValueMap toValues(const Mix& mix);

/// The sides of a cell, from above; north is -z.
enum Side : std::uint8_t { kNorth = 1, kEast = 2, kSouth = 4, kWest = 8 };
/// The same sides after so many quarter turns to the left, seen from above.
std::uint8_t turned(std::uint8_t sides, int quarters);

/// Pieces of one cell each.
struct PieceSet {
    struct Piece {
        std::string item;
        std::uint8_t joins = 0;  ///< the sides at which it goes on, as it stands unturned
        friend bool operator==(const Piece&, const Piece&) = default;
    };
    std::string name;
    double cellMetres = 1;
    std::vector<Piece> pieces;
    ValueMap unknown;
    friend bool operator==(const PieceSet&, const PieceSet&) = default;
    const Piece* pieceOf(std::string_view item) const;
};
PieceSet pieceSetFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems);
ValueMap toValues(const PieceSet& set);
/// "north, east" as letters: "ne".
std::string sidesText(std::uint8_t sides);

}  // namespace model
