#include "live_tuning.h"

#include "progress.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <thread>

namespace avrek::cli {

namespace {

constexpr std::size_t max_lines = 12;

} // namespace

std::pair<Time, TuningStep> timed_step(const char* option, const std::string& word) {
    const std::size_t equals = word.find('=');
    char* end = nullptr;
    const double seconds = equals != std::string::npos ? std::strtod(word.c_str(), &end) : -1.0;
    const bool is_number = end == word.c_str() + equals && equals > 0;
    if (equals == std::string::npos || !is_number || !(seconds >= 0.0 && seconds <= 86'400.0) ||
        equals + 1 == word.size()) {
        throw WrongCall{{fmt::format("error: {} '{}' is no time and file; allowed: SECONDS=FILE.toml, "
                                     "such as 5=quick.toml",
                                     option, word)}};
    }
    Loaded<ArsenalText> text = read_arsenal_text(word.substr(equals + 1));
    stop_at(text ? std::vector<Diagnostic>{} : text.diagnostics);
    return {Time{from_seconds(seconds)}, {.texts = {std::move(*text.value)}}};
}

ArsenalWatch watch_of(const std::vector<std::string>& files) {
    if (files.empty()) {
        throw WrongCall{{"error: --watch has no file to watch; allowed: with at least one ARSENAL.toml"}};
    }
    if (std::any_of(files.begin(), files.end(), is_session)) {
        throw WrongCall{
            {"error: --watch: a change of a session stays as it is; allowed: ARSENAL.toml, such as "
             "avrek session --restore writes"}};
    }
    return ArsenalWatch{files};
}

void say_news(const ArsenalNews& news) {
    const char* const back = Progress::is_shown() ? "\r\033[K" : "";
    for (const Diagnostic& fault : news.diagnostics) {
        fmt::print(stderr, "{}{}\n", back, to_string(fault));
    }
    if (news.arsenal == nullptr) {
        fmt::print(stderr, "{}the values stay as they were\n", back);
        return;
    }
    std::size_t said = 0;
    for (const ArsenalDifference& one : news.differences) {
        if (said++ == max_lines) {
            fmt::print(stderr, "{}and {} more\n", back, news.differences.size() - max_lines);
            break;
        }
        fmt::print(stderr, "{}{}: {} -> {}\n", back, one.path, one.before.empty() ? "(none)" : one.before,
                   one.after.empty() ? "(none)" : one.after);
    }
    if (news.differences.empty()) {
        fmt::print(stderr, "{}saved; no value differs\n", back);
    }
}

namespace {

void run_watched(const CommonOptions& common, const std::string& by, const std::function<void()>& show) {
    ArsenalWatch watch = watch_of(files_among(common.words));
    SessionKeeper session = keeper_of(common, watch.texts(), by, true);
    const NotesInterrupts interrupts;
    const auto draw = [&show] {
        if (isatty(STDOUT_FILENO) == 1) {
            fmt::print("\033[H\033[2J");
        }
        show();
        std::fflush(stdout);
    };
    draw();
    while (!interrupts.was_interrupted()) {
        std::this_thread::sleep_for(std::chrono::milliseconds{20});
        const auto news = watch.look();
        if (!news) {
            continue;
        }
        try {
            if (news->arsenal != nullptr && !news->differences.empty()) {
                draw();
            }
            say_news(*news);
            if (news->arsenal != nullptr) {
                session.keep(watch.texts(), by);
            }
        } catch (const WrongCall& call) { // such as a weapon that is gone: it may come back
            for (const std::string& line : call.lines) {
                fmt::print(stderr, "{}\n", line);
            }
        }
    }
}

} // namespace

void run_or_watch(const CommonOptions& common, const std::string& by, const std::function<void()>& show) {
    keeper_of(common.watch ? CommonOptions{} : common, {}, by, false);
    common.watch ? run_watched(common, by, show) : show();
}

SessionKeeper keeper_of(const CommonOptions& common, std::span<const ArsenalText> texts,
                        const std::string& by, bool can_change) {
    if (!common.session.empty() && !can_change) {
        throw WrongCall{{"error: --session has no change to keep; allowed: with --watch, or bout --retune"}};
    }
    return {common.session, texts, by};
}

LiveTuning::LiveTuning(const std::vector<ArsenalText>& texts, const std::vector<std::string>& words,
                       const CommonOptions& common)
    : tuned_(texts) {
    for (const std::string& word : words) {
        auto [at, step] = timed_step("--retune", word);
        planned_.push_back({at, std::move(step), nullptr});
    }
    std::stable_sort(planned_.begin(), planned_.end(),
                     [](const Planned& one, const Planned& other) { return one.at < other.at; });
    TunedArsenal tuned{texts};
    for (Planned& planned : planned_) {
        auto arsenal = tuned.with(planned.step);
        stop_at(arsenal ? std::vector<Diagnostic>{} : arsenal.diagnostics);
        planned.arsenal = std::move(*arsenal.value);
        tuned.take(planned.step);
    }
    session_ = keeper_of(common, texts, "bout", common.watch || !words.empty());
}

void LiveTuning::before_tick(Skirmish& skirmish, Recording& recording) {
    for (; next_ < planned_.size() && planned_[next_].at <= skirmish.now(); ++next_) {
        take(skirmish, recording, planned_[next_]);
    }
    const auto news = watch_ ? watch_->look() : std::nullopt;
    if (news) {
        say_news(*news);
        if (news->arsenal != nullptr) {
            take(skirmish, recording, {skirmish.now(), news->step, news->arsenal});
        }
    }
}

void LiveTuning::take(Skirmish& skirmish, Recording& recording, const Planned& planned) {
    if (const Outcome outcome = skirmish.retune(planned.arsenal); !outcome) {
        fmt::print(stderr, "the fight does not take it: {}\n", outcome.why());
        return;
    }
    recording.retune(planned.step);
    tuned_.take(planned.step);
    session_.keep(tuned_.texts(), fmt::format("bout at {:.3f} s", to_seconds(skirmish.now() - Time{})));
    taken_.push_back({.at = skirmish.now(), .name = planned.step.texts.back().name});
}

void LiveTuning::note(std::span<const Event> events) {
    if (noted_ == taken_.size()) {
        return;
    }
    noted_ = taken_.size();
    Taken& last = taken_.back();
    for (const RetunedEvent& event : events_of<RetunedEvent>(events)) {
        last.bodies += event.who != nobody ? 1 : 0;
        last.points += event.lost;
    }
    for (const HandlingEvent& hands : events_of<HandlingEvent>(events)) {
        if (hands.event.kind == WeaponEventKind::retuned) {
            ++last.weapons;
            last.rounds += hands.event.discarded;
        }
    }
}

std::string LiveTuning::text() const {
    std::string text;
    for (const Taken& one : taken_) {
        text += fmt::format(
            "retuned at {:.3f} s by {}: weapons {}, bodies {}; lost: rounds {}, points {:.0f}\n",
            to_seconds(one.at - Time{}), one.name, one.weapons, one.bodies, one.rounds, one.points);
    }
    return text;
}

} // namespace avrek::cli
