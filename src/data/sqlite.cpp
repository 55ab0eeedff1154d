#include "sqlite.h"

#include <sqlite3.h>

namespace avrek::detail {

void SqliteClosing::operator()(sqlite3* base) const {
    sqlite3_close(base);
}

void SqliteClosing::operator()(sqlite3_stmt* statement) const {
    sqlite3_finalize(statement);
}

void bind(sqlite3_stmt* statement, std::span<const Value> parameters) {
    for (std::size_t at = 0; at < parameters.size(); ++at) {
        const int index = static_cast<int>(at) + 1;
        const Value& value = parameters[at];
        if (const auto* number = std::get_if<std::int64_t>(&value)) {
            sqlite3_bind_int64(statement, index, *number);
        } else if (const auto* real = std::get_if<double>(&value)) {
            sqlite3_bind_double(statement, index, *real);
        } else if (const auto* text = std::get_if<RowText>(&value)) {
            sqlite3_bind_text(statement, index, text->view.data(), static_cast<int>(text->view.size()),
                              SQLITE_TRANSIENT);
        } else {
            sqlite3_bind_null(statement, index);
        }
    }
}

std::string for_each_row(sqlite3* base, const char* query, std::span<const Value> parameters,
                         const std::function<void(sqlite3_stmt*)>& visit) {
    sqlite3_stmt* prepared = nullptr;
    if (sqlite3_prepare_v2(base, query, -1, &prepared, nullptr) != SQLITE_OK) {
        return sqlite3_errmsg(base);
    }
    const SqliteStatement statement{prepared};
    bind(prepared, parameters);
    int step = SQLITE_ROW;
    while ((step = sqlite3_step(prepared)) == SQLITE_ROW) {
        visit(prepared);
    }
    return step == SQLITE_DONE ? "" : sqlite3_errmsg(base);
}

std::string run(sqlite3* base, const char* query, std::span<const Value> parameters) {
    return for_each_row(base, query, parameters, [](sqlite3_stmt*) {});
}

std::string text_in(sqlite3_stmt* row, int column) {
    const unsigned char* text = sqlite3_column_text(row, column);
    return text != nullptr ? std::string{reinterpret_cast<const char*>(text),
                                         static_cast<std::size_t>(sqlite3_column_bytes(row, column))}
                           : std::string{};
}

} // namespace avrek::detail
