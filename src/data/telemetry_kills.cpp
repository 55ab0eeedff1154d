#include "sqlite.h"
#include <avrek/data/telemetry_kills.h>

#include <sqlite3.h>

#include <algorithm>
#include <cstdint>
#include <map>
#include <memory>
#include <utility>

namespace avrek {

namespace {

using detail::for_each_row;
using detail::text_in;

constexpr double longest_gap = 3.0;

struct SeenHit {
    double at = 0.0;
    std::int64_t by = -1;
    std::string weapon{};
    double distance = 0.0;
};

// The kill that ends with `death`, if all hits that led to it are of its killer and its weapon.
bool led_to(const std::vector<SeenHit>& hits, double death, std::int64_t killer, ObservedKill& kill) {
    auto last = std::upper_bound(hits.begin(), hits.end(), death,
                                 [](double at, const SeenHit& hit) { return at < hit.at; });
    double first = death;
    double distances = 0.0;
    int count = 0;
    while (last != hits.begin()) {
        const SeenHit& hit = *--last;
        if (first - hit.at > longest_gap) {
            break;
        }
        if (hit.by != killer || hit.weapon != kill.weapon) {
            return false;
        }
        first = hit.at;
        distances += hit.distance;
        ++count;
    }
    kill.seconds = death - first;
    kill.distance = count > 0 ? distances / count : 0.0;
    return count > 0;
}

} // namespace

Loaded<std::vector<ObservedKill>> read_kills(const std::string& database) {
    const auto failed = [&](const std::string& why) {
        return Loaded<std::vector<ObservedKill>>{std::nullopt,
                                                 {{Severity::error,
                                                   database,
                                                   0,
                                                   0,
                                                   {},
                                                   why,
                                                   "a telemetry database, such as --telemetry FILE.db writes",
                                                   {}}}};
    };
    sqlite3* opened = nullptr;
    const int status = sqlite3_open_v2(database.c_str(), &opened, SQLITE_OPEN_READONLY, nullptr);
    const detail::SqliteBase base{opened};
    if (status != SQLITE_OK) {
        return failed(std::string{"cannot be read: "} + sqlite3_errmsg(base.get()));
    }
    using Who = std::pair<std::int64_t, std::int64_t>; // match and combatant
    std::map<Who, std::vector<SeenHit>> hits;
    std::map<Who, std::pair<std::string, std::string>> people; // body and profile
    std::string fault = for_each_row(
        base.get(),
        "SELECT match, target, at, who, weapon, distance FROM hits WHERE condition = '' AND who <> target "
        "ORDER BY match, target, at, id",
        {}, [&](sqlite3_stmt* row) {
            hits[{sqlite3_column_int64(row, 0), sqlite3_column_int64(row, 1)}].push_back(
                {sqlite3_column_double(row, 2), sqlite3_column_int64(row, 3), text_in(row, 4),
                 sqlite3_column_double(row, 5)});
        });
    if (fault.empty()) {
        fault = for_each_row(base.get(), "SELECT match, id, body, shooter FROM combatants", {},
                             [&](sqlite3_stmt* row) {
                                 people[{sqlite3_column_int64(row, 0), sqlite3_column_int64(row, 1)}] = {
                                     text_in(row, 2), text_in(row, 3)};
                             });
    }
    std::vector<ObservedKill> kills;
    if (fault.empty()) {
        fault = for_each_row(
            base.get(),
            "SELECT match, at, who, killer, weapon FROM deaths WHERE weapon <> '' ORDER BY match, at", {},
            [&](sqlite3_stmt* row) {
                const std::int64_t match = sqlite3_column_int64(row, 0);
                const std::int64_t killer = sqlite3_column_int64(row, 3);
                ObservedKill kill;
                kill.weapon = text_in(row, 4);
                kill.body = people[{match, sqlite3_column_int64(row, 2)}].first;
                kill.shooter = people[{match, killer}].second;
                if (led_to(hits[{match, sqlite3_column_int64(row, 2)}], sqlite3_column_double(row, 1), killer,
                           kill)) {
                    kills.push_back(kill);
                }
            });
    }
    return fault.empty() ? Loaded<std::vector<ObservedKill>>{std::move(kills), {}}
                         : failed("cannot be read: " + fault);
}

} // namespace avrek
