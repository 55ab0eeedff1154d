#include "tables.h"

#include "background.h"
#include "open_file.h"
#include "reused.h"
#include "sqlite.h"

#include <sqlite3.h>

#include <cerrno>
#include <charconv>
#include <cstdio>
#include <cstring>
#include <memory_resource>
#include <system_error>
#include <utility>

namespace avrek::detail {

namespace {

class SqliteTables final : public Tables {
  public:
    SqliteTables(const std::filesystem::path& file, std::span<const TableShape> shapes) {
        if (sqlite3_open(file.c_str(), &base_) != SQLITE_OK) {
            note();
            return;
        }
        sqlite3_busy_timeout(base_, 3000); // less than the patience below, so that the fault is named
        // The rows stay whole when the program is killed.
        run("PRAGMA journal_mode=WAL");
        run("PRAGMA synchronous=NORMAL");
        for (const TableShape& shape : shapes) {
            run("CREATE TABLE IF NOT EXISTS " + shape.name + " (" + shape.columns + ")");
            std::size_t count = 1;
            for (const char letter : shape.columns) {
                count += letter == ',' ? 1 : 0;
            }
            std::string places(2 * count - 1, '?'); // "?,?,?"
            for (std::size_t comma = 1; comma < places.size(); comma += 2) {
                places[comma] = ',';
            }
            names_.push_back(shape.name);
            const std::string text = "INSERT INTO " + shape.name + " VALUES (" + places + ")";
            sqlite3_stmt* statement = nullptr;
            if (sqlite3_prepare_v2(base_, text.c_str(), -1, &statement, nullptr) != SQLITE_OK) {
                note();
            }
            statements_.push_back(statement);
        }
        run("BEGIN");
    }
    SqliteTables(const SqliteTables&) = delete;
    SqliteTables& operator=(const SqliteTables&) = delete;
    ~SqliteTables() override {
        run("COMMIT");
        for (sqlite3_stmt* statement : statements_) {
            sqlite3_finalize(statement);
        }
        sqlite3_close(base_);
    }

    void add(std::size_t table, std::span<const Value> row) override {
        if (!fault_.empty()) {
            return;
        }
        sqlite3_stmt* statement = statements_[table];
        bind(statement, row);
        if (sqlite3_step(statement) != SQLITE_DONE) {
            note();
        }
        sqlite3_reset(statement);
    }

    void keep() override {
        run("COMMIT");
        run("BEGIN");
    }

    std::int64_t next_number(std::size_t table) override {
        std::int64_t number = 1;
        const std::string text = "SELECT coalesce(max(id), 0) + 1 FROM " + names_[table];
        if (fault_.empty()) {
            fault_ = for_each_row(base_, text.c_str(), {},
                                  [&number](sqlite3_stmt* row) { number = sqlite3_column_int64(row, 0); });
        }
        return number;
    }

    std::string fault() const override { return fault_; }

  private:
    void note() {
        if (fault_.empty()) {
            fault_ = sqlite3_errmsg(base_);
        }
    }

    void run(const std::string& text) {
        if (fault_.empty() && sqlite3_exec(base_, text.c_str(), nullptr, nullptr, nullptr) != SQLITE_OK) {
            note();
        }
    }

    sqlite3* base_ = nullptr;
    std::vector<std::string> names_;
    std::vector<sqlite3_stmt*> statements_;
    std::string fault_;
};

// Lines as RFC 4180 has them, but for line ends of \n.
class CsvTables final : public Tables {
  public:
    CsvTables(const std::filesystem::path& folder, std::span<const TableShape> shapes) {
        std::error_code code;
        std::filesystem::create_directories(folder, code);
        if (code) {
            fault_ = code.message();
            return;
        }
        for (const TableShape& shape : shapes) {
            const std::filesystem::path name = folder / (shape.name + ".csv");
            files_.emplace_back(std::fopen(name.c_str(), "w"));
            if (!files_.back()) {
                fault_ = name.string() + ": " + std::strerror(errno);
                return;
            }
            // Text that a disk does not take must not wait in the file for the end of the program.
            static_cast<void>(std::setvbuf(files_.back().get(), nullptr, _IONBF, 0));
            waiting_.emplace_back();
            std::string heading;
            std::size_t at = 0;
            while (at < shape.columns.size()) { // "match INTEGER, at REAL": the first word of each
                const std::size_t end = shape.columns.find(' ', at);
                if (!heading.empty()) {
                    heading += ',';
                }
                heading += shape.columns.substr(at, end - at);
                const std::size_t comma = shape.columns.find(", ", end);
                at = comma == std::string::npos ? shape.columns.size() : comma + 2;
            }
            write(files_.size() - 1, heading + '\n');
        }
    }

    void add(std::size_t table, std::span<const Value> row) override {
        std::string line;
        for (std::size_t column = 0; column < row.size(); ++column) {
            if (column > 0) {
                line += ',';
            }
            line += text_of(row[column]);
        }
        write(table, line + '\n');
    }

    ~CsvTables() override { keep_all(); }

    void keep() override { keep_all(); }

    std::int64_t next_number(std::size_t) override { return 1; }
    std::string fault() const override { return fault_; }

  private:
    static std::string text_of(const Value& value) {
        if (const auto* text = std::get_if<RowText>(&value)) {
            if (text->view.find_first_of(",\"\n\r") == std::string_view::npos) {
                return std::string{text->view};
            }
            std::string quoted = "\"";
            for (const char letter : text->view) {
                quoted += letter == '"' ? "\"\"" : std::string{letter};
            }
            return quoted + '"';
        }
        char text[32];
        char* end = text;
        if (const auto* number = std::get_if<std::int64_t>(&value)) {
            end = std::to_chars(text, text + sizeof text, *number).ptr;
        } else if (const auto* real = std::get_if<double>(&value)) {
            end = std::to_chars(text, text + sizeof text, *real).ptr;
        }
        return {text, end};
    }

    void write(std::size_t table, const std::string& text) {
        constexpr std::size_t many = 65'536; // bytes
        waiting_[table] += text;
        if (waiting_[table].size() >= many) {
            put(table);
        }
    }
    void put(std::size_t table) {
        std::string& text = waiting_[table];
        if (fault_.empty() && std::fwrite(text.data(), 1, text.size(), files_[table].get()) != text.size()) {
            fault_ = std::strerror(errno);
        }
        text.clear();
    }
    void keep_all() {
        for (std::size_t table = 0; table < waiting_.size(); ++table) {
            put(table);
        }
    }

    std::vector<OpenFile> files_;
    std::vector<std::string> waiting_; // by table: text that is not in its file yet
    std::string fault_;
};

class BackgroundTables final : public Tables {
  public:
    explicit BackgroundTables(std::unique_ptr<Tables> tables) : tables_(std::move(tables)) {}
    BackgroundTables(const BackgroundTables&) = delete;
    BackgroundTables& operator=(const BackgroundTables&) = delete;
    ~BackgroundTables() override {
        send(false);
        wait_for_disk();
    }

    void add(std::size_t table, std::span<const Value> row) override {
        constexpr std::size_t many = 10'000;
        batch_->values.insert(batch_->values.end(), row.begin(), row.end());
        for (Value& value : std::span{batch_->values}.last(row.size())) {
            if (auto* const text = std::get_if<RowText>(&value)) {
                text->view = batch_->kept(text->view);
            }
        }
        batch_->rows.push_back({table, row.size()});
        if (batch_->rows.size() >= many) {
            send(false);
        }
    }

    void keep() override { send(true); }

    std::int64_t next_number(std::size_t table) override {
        send(false);
        return wait_for_disk() ? tables_->next_number(table) : 1;
    }

    std::string fault() const override {
        return wait_for_disk() ? tables_->fault() : "the disk takes nothing";
    }

  private:
    struct Row {
        std::size_t table = 0;
        std::size_t size = 0;
    };
    struct Batch {
        std::vector<Value> values{}; // row after row
        std::vector<Row> rows{};
        std::pmr::monotonic_buffer_resource texts{};

        std::string_view kept(std::string_view text) {
            auto* const to = static_cast<char*>(texts.allocate(text.size(), 1));
            return {to, text.copy(to, text.size())};
        }
        void clear() {
            values.clear();
            rows.clear();
            texts.release();
        }
    };

    void send(bool is_kept) {
        auto job = [tables = tables_, full = std::exchange(batch_, batches_.take()), is_kept] {
            std::size_t first = 0;
            for (const Row& row : full->rows) {
                tables->add(row.table, std::span{full->values}.subspan(first, row.size));
                first += row.size;
            }
            full->clear();
            if (is_kept) {
                tables->keep();
            }
        };
        is_stuck_ = is_stuck_ || !background_.add(std::move(job), patience);
    }
    // Returns false if the disk takes nothing: what waits for it is dropped.
    bool wait_for_disk() const {
        is_stuck_ = is_stuck_ || !background_.finish(patience);
        if (is_stuck_) {
            background_.abandon();
        }
        return !is_stuck_;
    }

    static constexpr Background::Patience patience{5};
    std::shared_ptr<Tables> tables_;
    Reused<Batch> batches_{};
    std::shared_ptr<Batch> batch_ = batches_.take();
    mutable Background background_{};
    mutable bool is_stuck_ = false;
};

} // namespace

std::unique_ptr<Tables> in_background(std::unique_ptr<Tables> tables) {
    return std::make_unique<BackgroundTables>(std::move(tables));
}

std::unique_ptr<Tables> sqlite_tables(const std::filesystem::path& file, std::span<const TableShape> shapes) {
    return std::make_unique<SqliteTables>(file, shapes);
}

std::unique_ptr<Tables> csv_tables(const std::filesystem::path& folder, std::span<const TableShape> shapes) {
    return std::make_unique<CsvTables>(folder, shapes);
}

} // namespace avrek::detail
