#pragma once
#include "output.h"

#include <nlohmann/json_fwd.hpp>

#include <cstdint>
#include <string>
#include <variant>
#include <vector>

/// Rows and columns, in the forms that results are printed in.
namespace avrek::cli {

/// A column. Numbers are right-aligned, texts left-aligned.
struct Column {
    std::string name; ///< for people: "time"
    std::string unit; ///< for people, such as "ms"; may be empty
    std::string key;  ///< for programs: "time_ms"
    int decimals = 0; ///< decimals of real numbers in text
};

/// One value; nothing is an empty cell, and null in JSON.
using Cell = std::variant<std::monostate, std::string, std::int64_t, double, bool>;

struct Table {
    std::vector<Column> columns;
    std::vector<std::vector<Cell>> rows; ///< each as long as `columns`
};

/// The table without the columns that have nothing in any row.
Table without_empty(const Table& table);

/// The table as aligned text with a heading of names and units.
std::string to_text(const Table& table, bool colour);

/// Writes a table whose text form is `text`: that, CSV, or the rows as JSON. Throws WrongCall when it cannot.
void write_table(const Table& table, const std::string& text, const OutputOptions& output);

/// The table as CSV (RFC 4180, but for line ends of \n): a line of keys, then the rows. Real numbers have all
/// digits.
std::string to_csv(const Table& table);

/// The rows as a JSON list of objects.
nlohmann::ordered_json to_json(const Table& table);

} // namespace avrek::cli
