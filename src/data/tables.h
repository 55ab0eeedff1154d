#pragma once
#include <cstdint>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <variant>
#include <vector>

/// Rows into tables, whatever they are kept in.
namespace avrek::detail {

/// A text in a row. Its owner keeps it until the row has been added, so a temporary string cannot be one.
struct RowText {
    RowText(std::string_view text) : view(text) {}
    RowText(const std::string& text) : view(text) {}
    RowText(std::string&&) = delete;

    std::string_view view;
};

/// A value of a row.
using Value = std::variant<std::monostate, std::int64_t, double, RowText>;
static_assert(std::is_trivially_copyable_v<Value>);
static_assert(!std::is_constructible_v<Value, std::string>);

struct TableShape {
    std::string name;
    std::string columns; ///< such as "match INTEGER, at REAL"
};

/// Where rows go. After the first failure nothing is written any more.
class Tables {
  public:
    virtual ~Tables() = default;
    virtual void add(std::size_t table, std::span<const Value> row) = 0;
    /// Puts on the disk what has been added.
    virtual void keep() = 0;
    /// One more than the greatest number in the first column of a table.
    virtual std::int64_t next_number(std::size_t table) = 0;
    /// Returns the fault; empty when there was none.
    virtual std::string fault() const = 0;
};

/// A database of SQLite, or a folder of CSV.
std::unique_ptr<Tables> sqlite_tables(const std::filesystem::path& file, std::span<const TableShape> shapes);
std::unique_ptr<Tables> csv_tables(const std::filesystem::path& folder, std::span<const TableShape> shapes);

/// The same tables, which are written in a thread of their own. fault() waits for what has been kept. A disk
/// that takes nothing for 5 s is a fault: the rest is not written.
std::unique_ptr<Tables> in_background(std::unique_ptr<Tables> tables);

} // namespace avrek::detail
