#pragma once
#include "tables.h"

#include <functional>
#include <memory>
#include <span>
#include <string>

struct sqlite3;
struct sqlite3_stmt;

/// Databases of SQLite: closing, binding and reading rows.
namespace avrek::detail {

/// Closes a database or a statement.
struct SqliteClosing {
    void operator()(sqlite3* base) const;
    void operator()(sqlite3_stmt* statement) const;
};

using SqliteBase = std::unique_ptr<sqlite3, SqliteClosing>;
using SqliteStatement = std::unique_ptr<sqlite3_stmt, SqliteClosing>;

/// Sets the parameters of a statement.
void bind(sqlite3_stmt* statement, std::span<const Value> parameters);

/// Runs a query with these parameters and calls `visit` with each row. Returns the fault; empty without one.
std::string for_each_row(sqlite3* base, const char* query, std::span<const Value> parameters,
                         const std::function<void(sqlite3_stmt*)>& visit);
/// Runs a query whose rows nobody needs. Returns the fault; empty without one.
std::string run(sqlite3* base, const char* query, std::span<const Value> parameters = {});

/// Returns the text in a column of a row.
std::string text_in(sqlite3_stmt* row, int column);

} // namespace avrek::detail
