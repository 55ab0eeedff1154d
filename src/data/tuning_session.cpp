#include "sqlite.h"
#include <avrek/data/tuning_session.h>

#include <sqlite3.h>
#define XXH_INLINE_ALL
#include <xxhash.h>

#include <algorithm>
#include <map>
#include <utility>

namespace avrek {

namespace {

using detail::for_each_row;
using detail::text_in;
using detail::Value;

constexpr std::int64_t application = 0x4156524B; // "AVRK"
constexpr std::int64_t newest_version = 1;

constexpr const char* tables[] = {
    "CREATE TABLE changes (number INTEGER PRIMARY KEY, at INTEGER NOT NULL, by TEXT NOT NULL)",
    "CREATE TABLE texts (id INTEGER PRIMARY KEY, hash INTEGER NOT NULL, name TEXT NOT NULL, "
    "text TEXT NOT NULL)",
    "CREATE INDEX texts_by_hash ON texts (hash)",
    "CREATE TABLE change_texts (number INTEGER, place INTEGER, text INTEGER, PRIMARY KEY (number, place))",
    "CREATE TABLE change_values (number INTEGER, path TEXT, before TEXT, after TEXT, "
    "PRIMARY KEY (number, path))",
};

std::int64_t hash_of(const ArsenalText& text) {
    return static_cast<std::int64_t>(XXH3_64bits(text.text.data(), text.text.size()));
}

bool are_same(std::span<const ArsenalText> one, std::span<const ArsenalText> other) {
    return std::equal(
        one.begin(), one.end(), other.begin(), other.end(),
        [](const ArsenalText& a, const ArsenalText& b) { return a.name == b.name && a.text == b.text; });
}

} // namespace

struct TuningSession::Base {
    std::string file;
    detail::SqliteBase base{};

    std::vector<Diagnostic> fault(const std::string& why) const {
        return {{.file = file,
                 .message = why,
                 .allowed = "a session file, such as --session FILE.session keeps"}};
    }

    // The number that a query gives; 0 without a row.
    std::string number(const char* query, std::int64_t& number) const {
        number = 0;
        return for_each_row(base.get(), query, {},
                            [&number](sqlite3_stmt* row) { number = sqlite3_column_int64(row, 0); });
    }

    std::string open(bool writes) {
        sqlite3* opened = nullptr;
        const int flags = writes ? SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE : SQLITE_OPEN_READONLY;
        const int status = sqlite3_open_v2(file.c_str(), &opened, flags, nullptr);
        base.reset(opened);
        if (status != SQLITE_OK) {
            return sqlite3_errmsg(opened);
        }
        sqlite3_busy_timeout(opened, 5000);
        return writes ? within("BEGIN IMMEDIATE", [this] { return check(true); }) : check(false);
    }

    // Runs `work` in a transaction, which only counts when nothing fails.
    template <class Work>
    std::string within(const char* begin, const Work& work) {
        std::string fault = detail::run(base.get(), begin);
        if (!fault.empty()) {
            return fault;
        }
        fault = work();
        if (fault.empty()) {
            fault = detail::run(base.get(), "COMMIT");
        }
        if (!fault.empty()) {
            detail::run(base.get(), "ROLLBACK");
        }
        return fault;
    }

    // Checks that the file is a session; makes an empty one into a session.
    std::string check(bool makes) const {
        std::int64_t id = 0;
        std::int64_t version = 0;
        std::int64_t count = 0;
        std::string fault = number("PRAGMA application_id", id);
        fault = fault.empty() ? number("PRAGMA user_version", version) : fault;
        fault = fault.empty() ? number("SELECT count(*) FROM sqlite_master", count) : fault;
        if (!fault.empty()) {
            return fault;
        }
        if (makes && id == 0 && count == 0) {
            for (const char* table : tables) {
                fault = fault.empty() ? detail::run(base.get(), table) : fault;
            }
            fault = fault.empty() ? detail::run(base.get(), "PRAGMA application_id = 1096176203") : fault;
            return fault.empty() ? detail::run(base.get(), "PRAGMA user_version = 1") : fault;
        }
        return id != application           ? "is no session file"
               : version != newest_version ? "is of version " + std::to_string(version)
                                           : "";
    }

    std::string last(std::int64_t& number_of_it) const {
        return number("SELECT coalesce(max(number), -1) FROM changes", number_of_it);
    }

    std::string read_texts(std::int64_t change, std::vector<ArsenalText>& texts) const {
        const Value which{change};
        return for_each_row(base.get(),
                            "SELECT name, texts.text FROM change_texts JOIN texts ON texts.id = "
                            "change_texts.text WHERE number = ? ORDER BY place",
                            {&which, 1}, [&texts](sqlite3_stmt* row) {
                                texts.push_back({text_in(row, 0), text_in(row, 1)});
                            });
    }

    // Finds or adds a text.
    std::string id_of(const ArsenalText& text, std::int64_t& id) const {
        const Value parts[] = {Value{hash_of(text)}, Value{text.name}, Value{text.text}};
        id = 0;
        std::string fault =
            for_each_row(base.get(), "SELECT id FROM texts WHERE hash = ? AND name = ? AND text = ?", parts,
                         [&id](sqlite3_stmt* row) { id = sqlite3_column_int64(row, 0); });
        if (fault.empty() && id == 0) {
            fault = detail::run(base.get(), "INSERT INTO texts (hash, name, text) VALUES (?, ?, ?)", parts);
            id = sqlite3_last_insert_rowid(base.get());
        }
        return fault;
    }

    std::string add(std::int64_t change, std::span<const ArsenalText> texts,
                    const std::vector<ArsenalDifference>& values, SessionTime at, std::string_view by) const {
        const Value head[] = {Value{change}, Value{std::int64_t{at.time_since_epoch().count()}}, Value{by}};
        std::string fault = detail::run(base.get(), "INSERT INTO changes VALUES (?, ?, ?)", head);
        for (std::size_t place = 0; place < texts.size() && fault.empty(); ++place) {
            std::int64_t id = 0;
            fault = id_of(texts[place], id);
            const Value row[] = {Value{change}, Value{static_cast<std::int64_t>(place)}, Value{id}};
            fault = fault.empty() ? detail::run(base.get(), "INSERT INTO change_texts VALUES (?, ?, ?)", row)
                                  : fault;
        }
        for (const ArsenalDifference& value : values) {
            const Value row[] = {Value{change}, Value{value.path}, Value{value.before}, Value{value.after}};
            fault = fault.empty()
                        ? detail::run(base.get(), "INSERT INTO change_values VALUES (?, ?, ?, ?)", row)
                        : fault;
        }
        return fault;
    }
};

TuningSession::TuningSession(std::unique_ptr<Base> base) : base_(std::move(base)) {}
TuningSession::TuningSession(TuningSession&&) noexcept = default;
TuningSession& TuningSession::operator=(TuningSession&&) noexcept = default;
TuningSession::~TuningSession() = default;

Loaded<TuningSession> TuningSession::open(const std::string& file) {
    auto base = std::make_unique<Base>(Base{file});
    if (const std::string fault = base->open(true); !fault.empty()) {
        return {std::nullopt, base->fault(fault)};
    }
    return {TuningSession{std::move(base)}, {}};
}

Loaded<TuningSession> TuningSession::read(const std::string& file) {
    auto base = std::make_unique<Base>(Base{file});
    if (const std::string fault = base->open(false); !fault.empty()) {
        return {std::nullopt, base->fault(fault)};
    }
    return {TuningSession{std::move(base)}, {}};
}

Loaded<std::int64_t> TuningSession::keep(std::span<const ArsenalText> texts, SessionTime at,
                                         std::string_view by) {
    std::int64_t number = -1;
    const std::string fault = base_->within("BEGIN IMMEDIATE", [&] {
        std::string found = base_->last(number);
        std::vector<ArsenalText> before;
        found = found.empty() ? base_->read_texts(number, before) : found;
        if (!found.empty() || (number >= 0 && are_same(before, texts))) {
            return found;
        }
        const bool is_first = ++number == 0;
        return base_->add(number, texts,
                          is_first ? std::vector<ArsenalDifference>{} : differences(before, texts), at, by);
    });
    return fault.empty()
               ? Loaded<std::int64_t>{number, {}}
               : Loaded<std::int64_t>{std::nullopt, base_->fault("the change is not kept: " + fault)};
}

Loaded<std::vector<SessionChange>> TuningSession::changes() const {
    std::map<std::int64_t, SessionChange> found;
    sqlite3* base = base_->base.get();
    std::string fault =
        for_each_row(base, "SELECT number, at, by FROM changes", {}, [&found](sqlite3_stmt* row) {
            const std::int64_t number = sqlite3_column_int64(row, 0);
            found[number] = {number, SessionTime{std::chrono::milliseconds{sqlite3_column_int64(row, 1)}},
                             text_in(row, 2)};
        });
    const auto add = [&](const char* query, const auto& to) {
        fault = fault.empty() ? for_each_row(base, query, {},
                                             [&](sqlite3_stmt* row) {
                                                 const auto change = found.find(sqlite3_column_int64(row, 0));
                                                 if (change != found.end()) {
                                                     to(change->second, row);
                                                 }
                                             })
                              : fault;
    };
    add("SELECT number, name FROM change_texts JOIN texts ON texts.id = change_texts.text ORDER BY place",
        [](SessionChange& change, sqlite3_stmt* row) { change.files.push_back(text_in(row, 1)); });
    add("SELECT number, path, before, after FROM change_values ORDER BY path",
        [](SessionChange& change, sqlite3_stmt* row) {
            change.values.push_back({text_in(row, 1), text_in(row, 2), text_in(row, 3)});
        });
    if (!fault.empty()) {
        return {std::nullopt, base_->fault("cannot be read: " + fault)};
    }
    std::vector<SessionChange> changes;
    changes.reserve(found.size());
    for (auto& [number, change] : found) {
        changes.push_back(std::move(change));
    }
    return {std::move(changes), {}};
}

Loaded<std::vector<ArsenalText>> TuningSession::texts(std::int64_t number) const {
    std::int64_t last = -1;
    std::vector<ArsenalText> texts;
    std::string fault = base_->last(last);
    fault = fault.empty() ? base_->read_texts(number, texts) : fault;
    if (fault.empty() && (number < 0 || number > last)) {
        Diagnostic missing{.file = base_->file, .message = "has no change " + std::to_string(number)};
        missing.allowed =
            last < 0 ? "none; nothing was kept in it yet" : "changes 0 to " + std::to_string(last);
        return {std::nullopt, {missing}};
    }
    return fault.empty()
               ? Loaded<std::vector<ArsenalText>>{std::move(texts), {}}
               : Loaded<std::vector<ArsenalText>>{std::nullopt, base_->fault("cannot be read: " + fault)};
}

Loaded<std::vector<ArsenalText>> TuningSession::last_texts() const {
    std::int64_t last = -1;
    if (const std::string fault = base_->last(last); !fault.empty()) {
        return {std::nullopt, base_->fault("cannot be read: " + fault)};
    }
    return texts(std::max<std::int64_t>(last, 0));
}

} // namespace avrek
