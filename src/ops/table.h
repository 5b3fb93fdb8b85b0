#pragma once
// Objects as rows of a table: what stands in each cell, and cells changed by the hundred as one step. Cells are text
// as people type it, and as a spreadsheet or a CSV file has it.
#include <map>
#include <string>
#include <vector>

#include "model/facets/act.h"
#include "ops/move.h"
#include "ops/properties.h"

namespace ops {

struct TableColumn {
    enum class What { Id, Name, Kind, Item, Parent, Pose, Flag, Children, Act, Property };
    What what = What::Name;
    std::string key;    ///< head of a CSV column: "name", "x", "turnY", "hidden", or a property's name
    std::string label;  ///< for people
    std::string unit;
    PoseField field = PoseField::PositionX;  ///< of a pose
    std::uint8_t flag = 0;                   ///< of a flag
    base::ObjectId act{};                    ///< of an act: what objects are in it
    bool editable() const {
        return what == What::Name || what == What::Kind || what == What::Item || what == What::Pose ||
               what == What::Flag || what == What::Act || what == What::Property;
    }
    friend bool operator==(const TableColumn&, const TableColumn&) = default;
};

/// Everything that can be a column: what every object has, then each property of the kinds that are in the scene.
std::vector<TableColumn> tableColumns(const model::Library& library, const model::Scene& scene);

/// What cells are read from: any thread, with a snapshot of the scene and a copy of the library. Poses are the world's,
/// or as seen from an object (its place and turn, not its size).
struct TableSource {
    const model::Library& library;
    const model::Scene& scene;
    base::ObjectId relativeTo;  ///< zero: the world
};
/// Empty where there is nothing: a property that its kind has not.
std::string cellText(const TableSource& source, model::Slot slot, const TableColumn& column);
/// The number in a cell; nothing: it is none. Angles in degrees, above -180 up to 180.
std::optional<double> cellNumber(const TableSource& source, model::Slot slot, const TableColumn& column);

/// Rows by what is typed: words as in query::ObjectFilter, and for any column `x=2..5`, `turnY>90`, `state=op*`.
class TableFilter {
  public:
    TableFilter(std::string_view text, const std::vector<TableColumn>& columns);
    ~TableFilter();
    TableFilter(TableFilter&&) noexcept;
    bool fits(const TableSource& source, model::Slot slot) const;

  private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};
/// In place; ascending numbers before texts, rows that are equal stay in their order.
void sortRows(const TableSource& source, std::vector<model::Slot>& rows, const TableColumn& column, bool descending);

/// What is to stand in a cell.
struct CellInput {
    base::ObjectId id;
    TableColumn column;
    std::string text;
    std::size_t row = 0;  ///< of the file or block it comes from, for messages; the first is 1
};
struct CellChange {
    base::ObjectId id;
    std::string column, before, after;
};
struct CellProblem {
    std::size_t row = 0;
    std::string column, message;
};
/// What cells would change, looked at before anything is written.
struct CellPlan {
    std::vector<CellChange> changes;
    std::vector<CellProblem> problems;
    std::vector<std::string> remarks;  ///< what was passed over
    // The same as values to be written.
    struct Written {
        std::vector<base::ObjectId> named, kindred, replaced, posed, flagged, detailed;
        std::vector<std::string> names, kinds, items;
        std::vector<base::Transform> poses;
        std::vector<std::uint8_t> flags;
        std::vector<model::DetailPtr> details;
        std::map<std::pair<base::ObjectId, model::ActPart::Is>, std::vector<base::ObjectId>> acts;
        /// Members of facets, by their paths.
        std::map<std::string, std::pair<std::vector<base::ObjectId>, std::vector<model::Value>>> members;
    } written;
};
CellPlan planCells(const TableSource& source, const std::vector<CellInput>& cells);
/// Rows of a table with a head, matched by the column "id", or else "name". Columns that are not known, and rows that
/// fit no object or several, are problems; columns that cannot be changed are passed over, with a remark.
CellPlan planRows(const TableSource& source, const std::vector<std::vector<std::string>>& rows);
/// Writes a plan. Errors: BadInput when it has problems; of the draft.
base::Status apply(edit::Draft& draft, const CellPlan& plan);

/// Texts that go on as the first ones do: numbers by their difference (one when there is one), names by their number.
std::vector<std::string> series(const std::vector<std::string>& first, std::size_t count);

}  // namespace ops
