#pragma once
// Tables as text, as RFC 4180 has them: commas, quotes where needed, one line a row. Read with LF or CRLF. What a
// spreadsheet would run (=, +, -, @ and no number) stands behind an apostrophe, which reading takes away.
#include <iosfwd>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"

namespace io {

using CsvRow = std::vector<std::string>;

/// The rows of a text; a separator of tabs or semicolons is told by the first line. Errors: BadInput for an open quote,
/// with its line.
base::Result<std::vector<CsvRow>> parseCsv(std::string_view text);
/// The same with a separator that is known, and cells as they stand.
base::Result<std::vector<CsvRow>> parseCells(std::string_view text, char separator);

/// Writes rows one after the other.
class CsvWriter {
  public:
    explicit CsvWriter(std::ostream& out) : out_(out) {}
    void row(const CsvRow& cells);

  private:
    std::ostream& out_;
};

}  // namespace io
