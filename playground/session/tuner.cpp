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

std::vector<ArsenalNumber> Tuner::numbers_of(std::string_view entry) const {
    std::vector<ArsenalNumber> numbers = values_.numbers_of(entry);
    const Changes& changes = history_[at_];
    for (ArsenalNumber& number : numbers) {
        const auto changed = changes.find(number.path);
        if (!shows_first_ && changed != changes.end()) {
            number.value = changed->second;
        }
    }
    // Damage and rate of fire come before handling: plain keys, then those of tables and curves.
    std::stable_partition(numbers.begin(), numbers.end(), [&entry](const ArsenalNumber& number) {
        return number.path.find_first_of(".[", entry.size() + 1) == std::string::npos;
    });
    return numbers;
}

std::vector<Diagnostic> Tuner::set(const std::string& path, double value, bool goes_on) {
    Changes changes = history_[at_];
    changes[path] = value;
    Loaded<Arsenal> arsenal = made(values_, changes);
    if (!arsenal) {
        return std::move(arsenal.diagnostics);
    }
    if (goes_on && at_ > 0 && at_ + 1 == history_.size() && paths_.back() == path) {
        history_.back() = std::move(changes);
    } else {
        history_.resize(at_ + 1);
        paths_.resize(at_);
        history_.push_back(std::move(changes));
        paths_.push_back(path);
        ++at_;
    }
    shows_first_ = false;
    arsenal_ = std::make_shared<const Arsenal>(std::move(*arsenal.value));
    return {};
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
