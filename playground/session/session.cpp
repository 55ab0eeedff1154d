#include "session.h"

#include <algorithm>
#include <cassert>
#include <filesystem>
#include <fstream>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Duration between_looks = std::chrono::milliseconds{100};

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
        play_over_link(real);
    } else {
        stage_.play(real);
    }
    take_events();
    note_recoil(picture_, fight(), player());
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
    if (!step.values.empty()) {
        set(step.values);
    }
    if (!step.preset.empty()) {
        apply(step.preset);
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

namespace {

std::uint32_t bit_of(Command what) {
    assert(is_switch(what));
    return 1U << (static_cast<unsigned>(what) - static_cast<unsigned>(Command::show_regions));
}

} // namespace

bool Session::shows(Command what) const {
    return (shown_ & bit_of(what)) != 0;
}

// 10, 20, 30, 40 m, and away with it.
void Session::put_up_board() {
    constexpr Metres step = 10.0;
    constexpr Metres farthest = 40.0;
    const Metres distance = board_.distance >= farthest ? 0.0 : board_.distance + step;
    board_ = distance > 0.0 ? board_before(fight(), player(), distance) : FiringBoard{};
}

void Session::command(Command command) {
    const bool is_of_time = command <= Command::faster;
    if (is_switch(command)) {
        shown_ ^= bit_of(command);
    } else if (linked_ != nullptr && is_of_time) {
        notice_ = "a fight over a link goes on";
    } else {
        do_command(command);
    }
}

void Session::do_command(Command command) {
    switch (command) {
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
    case Command::next_moment:
    case Command::previous_moment:
        go_to_moment(command == Command::next_moment);
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
    case Command::board:
        put_up_board();
        break;
    case Command::link:
        linked_ == nullptr ? connect(link_) : disconnect();
        break;
    default:
        do_value_command(command);
        break;
    }
}

void Session::go_to_moment(bool next) {
    const Tick here = stage_.fight().tick();
    std::optional<Tick> found;
    for (const Moment& moment : picture_.moments) {
        const Tick tick = stage_.tick_of(moment.at);
        const bool is_ahead = next ? tick > here : tick < here;
        const bool is_nearer = !found || (next ? tick < *found : tick > *found);
        if (is_ahead && is_nearer && tick >= stage_.oldest() && tick <= stage_.newest()) {
            found = tick;
        }
    }
    if (found) {
        seek(*found);
    } else {
        notice_ = next ? "there is no later moment" : "there is no earlier moment";
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

} // namespace avrek::playground
