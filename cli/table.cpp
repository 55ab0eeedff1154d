#include "table.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cstddef>

namespace avrek::cli {

namespace {

struct TextOf {
    int decimals;

    std::string operator()(std::monostate) const { return ""; }
    std::string operator()(const std::string& text) const { return text; }
    std::string operator()(std::int64_t number) const { return fmt::format("{}", number); }
    std::string operator()(double number) const {
        std::string text = fmt::format("{:.{}f}", number, decimals);
        // A little less than nothing is shown as nothing.
        const bool zero = text.front() == '-' && text.find_first_of("123456789") == std::string::npos;
        return zero ? text.substr(1) : text;
    }
    std::string operator()(bool truth) const { return truth ? "yes" : "no"; }
};

struct CsvOf {
    std::string operator()(std::monostate) const { return ""; }
    std::string operator()(const std::string& text) const {
        if (text.find_first_of(",\"\n\r") == std::string::npos) {
            return text;
        }
        std::string quoted = "\"";
        for (const char character : text) {
            quoted += character == '"' ? std::string{"\"\""} : std::string(1, character);
        }
        return quoted + '"';
    }
    std::string operator()(std::int64_t number) const { return fmt::format("{}", number); }
    std::string operator()(double number) const { return fmt::format("{}", number); }
    std::string operator()(bool truth) const { return truth ? "true" : "false"; }
};

struct JsonOf {
    nlohmann::ordered_json operator()(std::monostate) const { return nullptr; }
    template <class Value>
    nlohmann::ordered_json operator()(const Value& value) const {
        return value;
    }
};

// A column stands to the left when its first filled cell is text.
bool is_left(const Table& table, std::size_t column) {
    for (const std::vector<Cell>& row : table.rows) {
        if (!std::holds_alternative<std::monostate>(row[column])) {
            return std::holds_alternative<std::string>(row[column]);
        }
    }
    return true;
}

std::string without_trailing_blanks(std::string line) {
    line.erase(line.find_last_not_of(' ') + 1);
    return line;
}

} // namespace

Table without_empty(const Table& table) {
    Table kept;
    kept.rows.resize(table.rows.size());
    for (std::size_t column = 0; column < table.columns.size(); ++column) {
        const bool empty = std::all_of(table.rows.begin(), table.rows.end(), [column](const auto& row) {
            return std::holds_alternative<std::monostate>(row[column]);
        });
        if (empty && !table.rows.empty()) {
            continue;
        }
        kept.columns.push_back(table.columns[column]);
        for (std::size_t row = 0; row < table.rows.size(); ++row) {
            kept.rows[row].push_back(table.rows[row][column]);
        }
    }
    return kept;
}

std::string to_text(const Table& table, bool colour) {
    std::vector<std::vector<std::string>> lines{{}, {}};
    for (const Column& column : table.columns) {
        lines[0].push_back(column.name);
        lines[1].push_back(column.unit);
    }
    for (const std::vector<Cell>& row : table.rows) {
        std::vector<std::string>& line = lines.emplace_back();
        for (std::size_t column = 0; column < row.size(); ++column) {
            line.push_back(std::visit(TextOf{table.columns[column].decimals}, row[column]));
        }
    }
    if (std::all_of(lines[1].begin(), lines[1].end(), [](const std::string& unit) { return unit.empty(); })) {
        lines.erase(lines.begin() + 1);
    }
    const std::size_t headings = lines.size() - table.rows.size();
    std::vector<std::string> texts(lines.size());
    for (std::size_t column = 0; column < table.columns.size(); ++column) {
        std::size_t width = 0;
        for (const std::vector<std::string>& line : lines) {
            width = std::max(width, line[column].size());
        }
        const bool left = is_left(table, column);
        for (std::size_t line = 0; line < lines.size(); ++line) {
            texts[line] += column == 0 ? "" : "  ";
            texts[line] += left ? fmt::format("{:<{}}", lines[line][column], width)
                                : fmt::format("{:>{}}", lines[line][column], width);
        }
    }
    std::string text;
    for (std::size_t line = 0; line < texts.size(); ++line) {
        text += emphasised(without_trailing_blanks(texts[line]), colour && line < headings) + '\n';
    }
    return text;
}

void write_table(const Table& table, const std::string& text, const OutputOptions& output) {
    switch (output.format) {
    case Format::text:
        write_result(text, output);
        break;
    case Format::csv:
        write_result(to_csv(table), output);
        break;
    case Format::json:
        write_result(to_json(table).dump(2) + '\n', output);
        break;
    }
}

std::string to_csv(const Table& table) {
    std::string text;
    for (const Column& column : table.columns) {
        text.append(text.empty() ? "" : ",").append(column.key);
    }
    text += '\n';
    for (const std::vector<Cell>& row : table.rows) {
        for (std::size_t column = 0; column < row.size(); ++column) {
            text.append(column == 0 ? "" : ",").append(std::visit(CsvOf{}, row[column]));
        }
        text += '\n';
    }
    return text;
}

nlohmann::ordered_json to_json(const Table& table) {
    nlohmann::ordered_json rows = nlohmann::ordered_json::array();
    for (const std::vector<Cell>& row : table.rows) {
        nlohmann::ordered_json object = nlohmann::ordered_json::object();
        for (std::size_t column = 0; column < row.size(); ++column) {
            object[table.columns[column].key] = std::visit(JsonOf{}, row[column]);
        }
        rows.push_back(std::move(object));
    }
    return rows;
}

} // namespace avrek::cli
