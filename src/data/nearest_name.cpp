#include <avrek/data/nearest_name.h>

#include <algorithm>
#include <cstddef>
#include <vector>

namespace avrek {

namespace {

constexpr std::size_t longest_name = 64; // bounds the work for hostile input

std::size_t distance(std::string_view a, std::string_view b) {
    std::vector<std::vector<std::size_t>> table(a.size() + 1, std::vector<std::size_t>(b.size() + 1));
    for (std::size_t i = 0; i <= a.size(); ++i) {
        table[i][0] = i;
    }
    for (std::size_t j = 0; j <= b.size(); ++j) {
        table[0][j] = j;
    }
    for (std::size_t i = 1; i <= a.size(); ++i) {
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t replaced = table[i - 1][j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
            table[i][j] = std::min({table[i - 1][j] + 1, table[i][j - 1] + 1, replaced});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
                table[i][j] = std::min(table[i][j], table[i - 2][j - 2] + 1);
            }
        }
    }
    return table[a.size()][b.size()];
}

} // namespace

std::string nearest_name(std::string_view typed, std::span<const std::string> names) {
    if (typed.empty() || typed.size() > longest_name) {
        return {};
    }
    std::size_t nearest = std::max<std::size_t>(1, typed.size() / 3) + 1;
    std::string found;
    for (const std::string& name : names) {
        const std::size_t away = name.size() > longest_name ? nearest : distance(typed, name);
        if (away < nearest) {
            nearest = away;
            found = name;
        }
    }
    return found;
}

} // namespace avrek
