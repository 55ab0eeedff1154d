#include "tuner.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <charconv>
#include <utility>

namespace avrek::playground {

Tuner::Tuner(std::vector<ArsenalText> texts) : values_(texts) {
    Loaded<Arsenal> arsenal = parse_arsenal(texts);
    assert(arsenal);
    first_ = arsenal_ = std::make_shared<const Arsenal>(std::move(*arsenal.value));
    const auto add = [this](const char* section, const auto& specs) {
        for (const auto& spec : specs) {
            const std::string entry = std::string{section} + '.' + spec.id;
            if (!values_.numbers_of(entry).empty()) {
                entries_.push_back(entry);
            }
        }
    };
    add("weapon", first_->weapons);
    add("ammo", first_->ammo);
    add("projectile", first_->projectiles);
    add("melee", first_->melee);
    add("body", first_->bodies);
    add("condition", first_->conditions);
    add("surface", first_->surfaces);
    add("hazard", first_->hazards);
    add("pickup", first_->pickups);
    add("match", first_->matches);
    add("shooter", first_->shooters);
    add("link", first_->links);
}

std::vector<ArsenalChange> Tuner::changes_of(const Changes& changes) const {
    std::vector<ArsenalChange> list;
    for (const auto& [path, value] : changes) {
        list.push_back({path, value});
    }
    return list;
}

Loaded<Arsenal> Tuner::made(const ArsenalValues& values, const Changes& changes) const {
    return changes.empty() ? parse_arsenal(values.texts()) : values.with(changes_of(changes));
}

Loaded<ArsenalNumber> Tuner::find(std::string_view path) const {
    Loaded<ArsenalNumber> number = values_.find(path);
    const Changes& changes = history_[at_];
    if (const auto changed = changes.find(std::string{path});
        number && !shows_first_ && changed != changes.end()) {
        number->value = changed->second;
    }
    return number;
}

std::vector<ArsenalNumber> Tuner::numbers_of(std::string_view entry, bool all) const {
    std::vector<ArsenalNumber> numbers = all ? values_.all_numbers_of(entry) : values_.numbers_of(entry);
    const Changes& changes = history_[at_];
    for (ArsenalNumber& number : numbers) {
        const auto changed = changes.find(number.path);
        if (!shows_first_ && changed != changes.end()) {
            number.value = changed->second;
        }
    }
    // Damage and rate of fire come before handling: plain keys, then those of tables and curves.
    std::stable_partition(numbers.begin(), numbers.end(), [&entry](const ArsenalNumber& number) {
        return number.given && number.path.find_first_of(".[", entry.size() + 1) == std::string::npos;
    });
    return numbers;
}

std::vector<Diagnostic> Tuner::set(const std::map<std::string, double>& values, bool goes_on) {
    Changes changes = history_[at_];
    std::vector<std::string> paths;
    for (const auto& [path, value] : values) {
        changes[path] = value;
        paths.push_back(path);
    }
    Loaded<Arsenal> arsenal = made(values_, changes);
    if (!arsenal) {
        return std::move(arsenal.diagnostics);
    }
    touched_.insert(paths.begin(), paths.end());
    if (goes_on && at_ > 0 && at_ + 1 == history_.size() && paths_.back() == paths) {
        history_.back() = std::move(changes);
    } else {
        history_.resize(at_ + 1);
        paths_.resize(at_);
        history_.push_back(std::move(changes));
        paths_.push_back(std::move(paths));
        ++at_;
    }
    shows_first_ = false;
    arsenal_ = std::make_shared<const Arsenal>(std::move(*arsenal.value));
    return {};
}

std::vector<Diagnostic> Tuner::apply(const ArsenalText& overlay) {
    std::vector<ArsenalText> all{values_.texts().begin(), values_.texts().end()};
    all.push_back(overlay);
    if (Loaded<Arsenal> arsenal = parse_arsenal(all); !arsenal) {
        return std::move(arsenal.diagnostics);
    }
    const ArsenalValues other{{&overlay, 1}};
    const ArsenalValues with_it{all};
    std::map<std::string, double> values;
    for (const std::string& entry : entries_) {
        for (const ArsenalNumber& number : other.numbers_of(entry)) {
            values[number.path] = number.value;
            // The y of a point is listed, and its x may differ too.
            std::string x = number.path;
            if (x.ends_with("].y") && values_.find(x.replace(x.size() - 1, 1, "x"))) {
                values[x] = with_it.find(x)->value;
            }
        }
    }
    if (values.empty()) {
        return {{.file = overlay.name,
                 .message = "changes no number of this arsenal",
                 .allowed = "an overlay with numbers of its entries"}};
    }
    return set(values);
}

Loaded<ArsenalText> Tuner::whole_overlay(std::string_view name) const {
    std::vector<ArsenalChange> all;
    for (const std::string& path : touched_) {
        if (const Loaded<ArsenalNumber> number = find(path)) {
            all.push_back({path, number->value});
        }
    }
    return values_.overlay(all, name);
}

// Shows the values after so many changes.
bool Tuner::go(std::size_t at) {
    Loaded<Arsenal> arsenal = made(values_, history_[at]);
    if (!arsenal) {
        return false;
    }
    at_ = at;
    shows_first_ = false;
    arsenal_ = std::make_shared<const Arsenal>(std::move(*arsenal.value));
    return true;
}

bool Tuner::undo() {
    return at_ > 0 && go(at_ - 1);
}

bool Tuner::redo() {
    return at_ + 1 < history_.size() && go(at_ + 1);
}

void Tuner::compare() {
    if (!shows_first_) {
        shows_first_ = true;
        arsenal_ = first_;
    } else {
        go(at_);
    }
}

std::vector<Diagnostic> Tuner::take(std::vector<ArsenalText> texts) {
    Loaded<Arsenal> first = parse_arsenal(texts);
    if (!first) {
        return std::move(first.diagnostics);
    }
    ArsenalValues values{texts};
    Loaded<Arsenal> arsenal = made(values, history_[at_]);
    if (!arsenal) {
        return std::move(arsenal.diagnostics);
    }
    values_ = std::move(values);
    first_ = std::make_shared<const Arsenal>(std::move(*first.value));
    arsenal_ = shows_first_ ? first_ : std::make_shared<const Arsenal>(std::move(*arsenal.value));
    return {};
}

Loaded<ArsenalText> Tuner::overlay(std::string_view name) const {
    return values_.overlay(changes_of(history_[at_]), name);
}

std::vector<ArsenalText> Tuner::texts() const {
    std::vector<ArsenalText> all{values_.texts().begin(), values_.texts().end()};
    if (!shows_first_ && !history_[at_].empty()) {
        if (auto changed = overlay("changes.toml")) {
            all.push_back(std::move(*changed.value));
        }
    }
    return all;
}

std::vector<ArsenalDifference> Tuner::differences() const {
    const auto text_of = [](double value) {
        std::array<char, 32> digits{};
        return std::string{digits.data(),
                           std::to_chars(digits.data(), digits.data() + digits.size(), value).ptr};
    };
    std::vector<ArsenalDifference> found;
    for (const auto& [path, value] : history_[at_]) {
        const Loaded<ArsenalNumber> first = values_.find(path);
        if (first && first->value != value) {
            found.push_back({path, text_of(first->value), text_of(value)});
        }
    }
    return found;
}

} // namespace avrek::playground
