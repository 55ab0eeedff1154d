#include "session.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Duration between_looks = std::chrono::milliseconds{100};
constexpr Duration between_steps = std::chrono::milliseconds{250};

} // namespace

Session::Session(std::shared_ptr<const GameData> data, const StageSettings& settings)
    : stage_(data, settings), settings_(settings), tuner_(data->texts) {
    entry_ = tuner_.entries().empty() ? "" : tuner_.entries().front();
    show_entry();
}

void Session::run(std::vector<ScriptStep> script) {
    for (ScriptStep& step : script) {
        step.at += clock_ - Time{};
    }
    script_ = std::move(script);
    next_ = 0;
}

void Session::watch(std::vector<std::string> files) {
    watch_.emplace(std::move(files));
}

void Session::look_at_files() {
    const auto news = watch_->look();
    if (!news) {
        return;
    }
    std::vector<Diagnostic> faults = news->diagnostics;
    if (news->arsenal != nullptr) {
        faults = tuner_.take(watch_->texts());
        take_values();
        notice_ = "saved: " + std::to_string(news->differences.size()) + " values differ";
    }
    for (const Diagnostic& fault : faults) {
        notice_ = to_string(fault);
    }
}

std::vector<std::string> Session::advance(Duration real) {
    clock_ += real;
    since_look_ += real;
    if (watch_ && since_look_ >= between_looks) {
        since_look_ = {};
        look_at_files();
    }
    std::vector<std::string> shots;
    for (; next_ < script_.size() && script_[next_].at <= clock_; ++next_) {
        do_step(script_[next_], shots);
    }
    if (linked_ != nullptr) {
        tell_server();
        linked_->play(real);
    } else {
        stage_.play(real);
    }
    take_events();
    drop_over(picture_, picture_time());
    return shots;
}

void Session::do_step(const ScriptStep& step, std::vector<std::string>& shots) {
    for (const Held held : step.hold) {
        controls().set(held, true);
    }
    for (const Held held : step.release) {
        controls().set(held, false);
    }
    if (step.look) {
        controls().look = *step.look;
    }
    if (step.slot) {
        controls().slot = static_cast<std::int8_t>(*step.slot);
    }
    if (!step.entry.empty()) {
        tune(step.entry);
    }
    for (const auto& [path, value] : step.values) {
        set(path, value);
    }
    if (step.link) {
        connect(*step.link);
    }
    if (step.seek) {
        seek(*step.seek);
    }
    for (const Command each : step.commands) {
        command(each);
    }
    if (!step.shot.empty()) {
        shots.push_back(step.shot);
    }
}

// Shows a thing, or hides it again.
void Session::show(Command what) {
    bool& is_shown = what == Command::show_regions    ? shown_.regions
                     : what == Command::show_segments ? shown_.segments
                     : what == Command::show_cone     ? shown_.cone
                     : what == Command::show_sight    ? shown_.sight
                                                      : shown_.help;
    is_shown = !is_shown;
}

void Session::command(Command command) {
    const auto turn_entry = [this](std::ptrdiff_t by) {
        const auto& all = tuner_.entries();
        const auto at = std::find(all.begin(), all.end(), entry_) - all.begin();
        const auto count = static_cast<std::ptrdiff_t>(all.size());
        entry_ = count > 0 ? all[static_cast<std::size_t>((at + by + count) % count)] : entry_;
        show_entry();
    };
    const bool is_of_time = command <= Command::faster;
    if (linked_ != nullptr && is_of_time) {
        notice_ = "a fight over a link goes on";
        return;
    }
    switch (command) {
    case Command::link:
        linked_ == nullptr ? connect(link_) : disconnect();
        break;
    case Command::pause:
        stage_.pause(!stage_.is_paused());
        break;
    case Command::step_forward:
        stage_.step();
        take_events();
        break;
    case Command::step_back:
        seek(stage_.fight().tick() - 1);
        break;
    case Command::slower:
        stage_.set_speed(stage_.speed() / 2.0);
        break;
    case Command::faster:
        stage_.set_speed(stage_.speed() * 2.0);
        break;
    case Command::next_view:
        view_ = static_cast<View>((static_cast<int>(view_) + 1) % 3);
        break;
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
        turn_entry(1);
        break;
    case Command::previous_entry:
        turn_entry(-1);
        break;
    case Command::show_regions:
    case Command::show_segments:
    case Command::show_cone:
    case Command::show_sight:
    case Command::help:
        show(command);
        break;
    }
}

void Session::set(const std::string& path, double value, bool goes_on) {
    const std::vector<Diagnostic> faults = tuner_.set(path, value, goes_on);
    notice_ = faults.empty() ? "" : to_string(faults.front());
    take_values();
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
    notice_ = "saved to " + overlay_file_;
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
    numbers_ = tuner_.numbers_of(entry_);
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

void Session::take_events() {
    if (linked_ != nullptr && !is_linked()) {
        return; // nobody plays
    }
    take(picture_, events(), fight(), player(), [this](BodyId who) { return stage_.name_of(who); });
}

void Session::connect(const LinkSpec& link) {
    link_ = link;
    if (linked_ != nullptr) {
        linked_->change(link);
        return;
    }
    // The server begins with the values that count now.
    auto data = std::make_shared<GameData>(stage_.data());
    data->texts = tuner_.texts();
    data->arsenal = *tuner_.arsenal();
    data->digest = digest_of(data->texts);
    if (const std::vector<Diagnostic> faults = validate_stage(*data, settings_); !faults.empty()) {
        notice_ = to_string(faults.front());
        return;
    }
    linked_ = std::make_unique<LinkedFight>(std::move(data), settings_, link);
    picture_ = {};
    is_to_tell_ = false;
    notice_ = "over a link";
}

void Session::disconnect() {
    linked_.reset();
    picture_ = {};
    notice_ = "alone again";
}

// A slider that is dragged is told four times a second.
void Session::tell_server() {
    if (!is_to_tell_ || clock_ < tells_at_ || !is_linked()) {
        return;
    }
    is_to_tell_ = false;
    tells_at_ = clock_ + between_steps;
    const Loaded<Tick> told = linked_->retune({.texts = tuner_.texts(), .replaces = true});
    for (const Diagnostic& fault : told.diagnostics) {
        notice_ = told ? notice_ : to_string(fault);
    }
}

void Session::seek(Tick tick) {
    if (linked_ != nullptr) {
        notice_ = "a fight over a link goes on";
        return;
    }
    stage_.pause(true);
    if (!stage_.seek(std::clamp(tick, stage_.oldest(), stage_.newest()))) {
        notice_ = "there is no such tick any more";
    }
    drop_after(picture_, stage_.fight().now());
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

std::optional<Sighted> Session::sighted() const {
    const Skirmish& seen = fight();
    const CombatantReadout me = seen.readout(player());
    const auto hit =
        seen.scene().closest_hit({{me.eye, direction_of(me.view), 200.0}}, {.ignores = {player()}});
    if (!hit) {
        return std::nullopt;
    }
    Sighted sighted{hit->distance, surface_of(seen.arsenal().surfaces, hit->surface).id};
    if (hit->body) {
        const RigSpec* rig = seen.scene().rig_of(*hit->body);
        sighted.what = stage_.name_of(*hit->body) +
                       (rig != nullptr && hit->region ? ", " + region_of(*rig, *hit->region).name : "");
    }
    return sighted;
}

std::string Session::report() const {
    const Skirmish& seen = fight();
    const CombatantReadout me = seen.readout(player());
    char hash[17];
    std::snprintf(hash, sizeof hash, "%016llx", static_cast<unsigned long long>(seen.state_hash()));
    nlohmann::ordered_json json{
        {"tick", seen.tick()},
        {"hash", hash},
        {"paused", stage_.is_paused()},
        {"speed", stage_.speed()},
        {"alive", me.alive},
        {"health", me.health},
        {"shots", seen.match().find(player())->stats.shots},
        {"view", static_cast<int>(view_)},
        {"entry", entry_},
        {"changes", tuner_.change_count()},
        {"first_values", tuner_.shows_first()},
        {"notice", notice_},
    };
    if (me.weapon) {
        json["rounds"] = me.weapon->rounds;
        json["reserve"] = me.weapon->reserve;
        json["cone_degrees"] = to_degrees(me.weapon->cone);
    }
    if (const auto what = sighted()) {
        json["sighted"] = {{"what", what->what}, {"distance", what->distance}};
    }
    if (linked_ != nullptr) {
        json["link"]["playing"] = is_linked();
        LinkFigures sum;
        for (const LinkFigures& second : linked_->figures()) {
            sum.corrections += second.corrections;
            sum.withdrawn += second.withdrawn;
            sum.round_trip = second.round_trip;
        }
        json["link"]["corrections"] = sum.corrections;
        json["link"]["withdrawn"] = sum.withdrawn;
        json["link"]["round_trip_ms"] = to_milliseconds(sum.round_trip);
        json["link"]["server_tick"] = linked_->server().tick();
    }
    json["moments"] = picture_.moments.size();
    for (const ArsenalDifference& one : differences_) {
        json["values"][one.path] = one.after;
    }
    return json.dump(2) + '\n';
}

} // namespace avrek::playground
