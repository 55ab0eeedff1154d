#include "session.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <utility>

// The values of a session.
namespace avrek::playground {

void Session::do_value_command(Command command) {
    switch (command) {
    case Command::undo:
        notice_ = tuner_.undo() ? "taken back" : "there is no change to take back";
        take_values();
        break;
    case Command::redo:
        notice_ = tuner_.redo() ? "made again" : "there is no change to make again";
        take_values();
        break;
    case Command::save:
        save();
        break;
    case Command::compare:
        tuner_.compare();
        notice_ = tuner_.shows_first() ? "the first values" : "the changed values";
        take_values();
        break;
    case Command::next_entry:
    case Command::previous_entry:
        turn_entry(command == Command::next_entry ? 1 : -1);
        break;
    case Command::next_number:
    case Command::previous_number:
        select_number(command == Command::next_number ? 1 : -1);
        break;
    case Command::larger:
    case Command::smaller:
        nudge_number(command == Command::larger ? 1.0 : -1.0);
        break;
    case Command::point_left:
    case Command::point_right:
        nudge_point(command == Command::point_right ? 1.0 : -1.0);
        break;
    case Command::next_preset:
        if (presets_.empty()) {
            notice_ = "there is no preset";
        } else {
            apply(presets_[next_preset_++ % presets_.size()]);
        }
        break;
    case Command::all_keys:
        all_keys_ = !all_keys_;
        show_entry();
        break;
    default:
        break; // not about values
    }
}

void Session::turn_entry(std::ptrdiff_t by) {
    const auto& all = tuner_.entries();
    const auto at = std::find(all.begin(), all.end(), entry_) - all.begin();
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    entry_ = count > 0 ? all[static_cast<std::size_t>((at + by + count) % count)] : entry_;
    show_entry();
}

void Session::take_faults(const std::vector<Diagnostic>& faults) {
    notice_ = faults.empty() ? "" : to_string(faults.front());
    take_values();
}

void Session::set(const std::map<std::string, double>& values, bool goes_on) {
    std::map<std::string, double> of_arsenal;
    LinkSettings link = link_wanted_;
    bool is_link = false;
    for (const auto& [path, value] : values) {
        if (set_number(link, path, value)) {
            is_link = true;
        } else {
            of_arsenal[path] = value;
        }
    }
    if (is_link) {
        want_link(link);
    }
    if (!of_arsenal.empty() || !is_link) {
        take_faults(tuner_.set(of_arsenal, goes_on));
    }
}

void Session::move_point(const EditedCurve& curve, std::size_t index, CurvePoint wanted, bool goes_on) {
    set(moved_point(curve, index, wanted), goes_on);
}

std::vector<ArsenalNumber> Session::link_numbers() const {
    std::vector<ArsenalNumber> numbers = numbers_of(link_wanted_);
    const auto& matches = tuner_.arsenal()->matches;
    if (!matches.empty()) {
        if (auto rewind = tuner_.find("match." + matches.front().id + ".lag_compensation.max_rewind")) {
            numbers.push_back(std::move(*rewind.value));
        }
    }
    return numbers;
}

std::vector<ArsenalNumber> Session::reachable_numbers() const {
    std::vector<ArsenalNumber> numbers = numbers_;
    if (linked_ != nullptr) {
        const std::vector<ArsenalNumber> more = link_numbers();
        numbers.insert(numbers.end(), more.begin(), more.end());
    }
    return numbers;
}

void Session::select_number(std::ptrdiff_t by) {
    const std::vector<ArsenalNumber> all = reachable_numbers();
    const auto at = std::find_if(all.begin(), all.end(),
                                 [this](const ArsenalNumber& one) { return one.path == selected_; });
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    if (count > 0) {
        const std::ptrdiff_t from = at != all.end() ? at - all.begin() : by > 0 ? -1 : 0;
        selected_ = all[static_cast<std::size_t>((from + by + count) % count)].path;
    }
}

// By a twentieth, or by one where that is less.
void Session::nudge_number(double sign) {
    for (const ArsenalNumber& one : reachable_numbers()) {
        if (one.path == selected_) {
            const double least = one.whole ? 1.0 : one.value == 0.0 ? 0.01 * std::min(one.max, 100.0) : 0.0;
            const double step = std::max(0.05 * std::abs(one.value), least);
            const double wanted = std::clamp(one.value + sign * step, one.min, one.max);
            char text[32];
            std::snprintf(text, sizeof text, one.whole ? "%.0f" : "%.4g", wanted);
            set(one.path, std::strtod(text, nullptr));
            return;
        }
    }
    notice_ = "no number is chosen";
}

// As it is drawn: planes have left on the left, as the shooter sees them.
void Session::nudge_point(double sign) {
    for (const EditedCurve& curve : curves_) {
        const std::optional<std::size_t> index = point_at(curve, selected_);
        if (!index) {
            continue;
        }
        double low = 0.0;
        double high = 0.0;
        for (std::size_t point = 0; point < curve.points.size(); ++point) {
            low = std::min(low, drawn_point(curve, point).x);
            high = std::max(high, drawn_point(curve, point).x);
        }
        const double step = 0.05 * std::max(high - low, 0.2);
        const CurvePoint from = drawn_point(curve, *index);
        const bool is_plane = curve.kind != EditedCurve::Kind::curve;
        move_point(curve, *index, {from.x + (is_plane ? -sign : sign) * step, from.y});
        return;
    }
    notice_ = "no point of a curve is chosen";
}

void Session::apply(const std::string& overlay_file) {
    std::ifstream file{overlay_file, std::ios::binary};
    if (!file) {
        notice_ = overlay_file + " cannot be read";
        return;
    }
    const std::string text{std::istreambuf_iterator<char>{file}, {}};
    take_faults(tuner_.apply({overlay_file, text}));
    notice_ =
        notice_.empty() ? "values of " + std::filesystem::path{overlay_file}.filename().string() : notice_;
}

// Writes beside the file first, so that a full disk leaves the last one whole.
void Session::save() {
    if (tuner_.change_count() == 0) {
        notice_ = "there is no change to save";
        return;
    }
    const Loaded<ArsenalText> overlay = tuner_.overlay(overlay_file_);
    const std::string fresh = overlay_file_ + ".new";
    std::ofstream file{fresh, std::ios::binary};
    file << (overlay ? overlay->text : "") << std::flush;
    std::error_code code;
    if (file) {
        std::filesystem::rename(fresh, overlay_file_, code);
    }
    if (!overlay || !file || code) {
        std::filesystem::remove(fresh, code);
        notice_ = overlay_file_ + " cannot be written";
        return;
    }
    saved_ = overlay->text;
    notice_ = "saved to " + overlay_file_;
}

bool Session::has_unsaved() const {
    const Loaded<ArsenalText> overlay = tuner_.overlay(overlay_file_);
    return !differences_.empty() && overlay && overlay->text != saved_;
}

bool Session::may_end() {
    const Loaded<ArsenalText> overlay = tuner_.overlay(overlay_file_);
    if (!has_unsaved() || asked_to_end_ == overlay->text) {
        return true;
    }
    asked_to_end_ = overlay->text;
    notice_ = "there are changes that are not saved: O saves them, and once more ends";
    return false;
}

// The fight has the tuner's values from the next tick on.
void Session::take_values() {
    if (const Outcome taken = stage_.retune(tuner_.arsenal()); !taken) {
        notice_ = "the fight does not take it: " + std::string{taken.why()};
    }
    is_to_tell_ = true;
    show_entry();
}

// Finds the numbers of the entry, and asks for the times of the tuned weapon, or of the first one.
void Session::show_entry() {
    numbers_ = tuner_.numbers_of(entry_, all_keys_);
    curves_ = curves_of(tuner_, numbers_);
    differences_ = tuner_.differences();
    const Arsenal& arsenal = *tuner_.arsenal();
    if (arsenal.weapons.empty() || arsenal.bodies.empty() || arsenal.shooters.empty()) {
        return; // a file was saved without them: the fight goes on with those that it has
    }
    const std::string section = "weapon.";
    std::string weapon = entry_.starts_with(section) ? entry_.substr(section.size()) : std::string{};
    if (find(arsenal.weapons, weapon) == nullptr) {
        weapon = arsenal.weapons.front().id;
    }
    answers_.ask(
        {tuner_.first(), tuner_.arsenal(), weapon, arsenal.bodies.front().id, arsenal.shooters.front().id});
}

void Session::tune(const std::string& entry) {
    const auto& all = tuner_.entries();
    if (std::find(all.begin(), all.end(), entry) == all.end()) {
        notice_ = "there is no entry '" + entry + "' with numbers";
        return;
    }
    entry_ = entry;
    show_entry();
}

} // namespace avrek::playground
