#include "plan_options.h"

#include "command_line.h"
#include <avrek/data/intents_toml.h>
#include <avrek/data/nearest_name.h>

#include <fmt/format.h>

#include <charconv>
#include <optional>
#include <string_view>
#include <vector>

namespace avrek::cli {

namespace {

constexpr double min_seconds = 0.001;
constexpr double max_seconds = 60.0;
constexpr std::int32_t max_planned_shots = 1000;

template <class Number>
std::optional<Number> number_of(std::string_view text) {
    Number number{};
    const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), number);
    return fault == std::errc{} && end == text.data() + text.size() ? std::optional{number} : std::nullopt;
}

std::optional<Duration> seconds_of(std::string_view text) {
    const std::optional<double> seconds = number_of<double>(text);
    return seconds && *seconds >= min_seconds && *seconds <= max_seconds
               ? std::optional{from_seconds(*seconds)}
               : std::nullopt;
}

WrongCall not_a_plan(const std::string& text, const std::string& allowed) {
    const std::string word = text.substr(0, text.find(':'));
    const std::string nearest = nearest_name(word, std::vector<std::string>{"hold", "taps", "bursts"});
    const std::string hint =
        nearest.empty() || nearest == word ? "" : fmt::format(", did you mean '{}'?", nearest);
    return {{fmt::format("error: --plan: '{}' is not allowed{}; allowed: {}", text, hint, allowed)}};
}

FiringPlan plan_in_file(const std::string& file, const Posture& posture) {
    const WeaponIntent before{
        .crouching = posture.crouching, .airborne = posture.airborne, .speed = posture.speed};
    const auto intents = load_intents(file, before);
    if (!intents) {
        WrongCall call;
        for (const Diagnostic& diagnostic : intents.diagnostics) {
            call.lines.push_back(to_string(diagnostic));
        }
        throw call;
    }
    const std::string name = file.substr(file.find_last_of('/') + 1);
    return {FiringPlanKind::intents, name.substr(0, name.size() - 5), {}, 0, *intents};
}

} // namespace

FiringPlan plan_named(const std::string& text, const Posture& posture) {
    const std::string_view whole = text;
    if (whole == "hold") {
        return {};
    }
    if (whole.ends_with(".toml")) {
        return plan_in_file(text, posture);
    }
    if (whole.starts_with("taps:")) {
        const std::optional<Duration> interval = seconds_of(whole.substr(5));
        if (!interval) {
            throw not_a_plan(text, "taps:SECONDS, 0.001 to 60 s between two presses");
        }
        return {FiringPlanKind::taps, fmt::format("taps {:g} s", to_seconds(*interval)), *interval, 0, {}};
    }
    if (whole.starts_with("bursts:")) {
        const std::size_t comma = whole.find(',');
        const auto shots = number_of<std::int32_t>(whole.substr(7, comma == whole.npos ? comma : comma - 7));
        const auto pause = comma == whole.npos ? std::nullopt : seconds_of(whole.substr(comma + 1));
        if (!shots || !pause || *shots < 1 || *shots > max_planned_shots) {
            throw not_a_plan(text, "bursts:SHOTS,SECONDS, 1 to 1000 shots and 0.001 to 60 s of pause");
        }
        return {FiringPlanKind::bursts,
                fmt::format("bursts {}, {:g} s", *shots, to_seconds(*pause)),
                *pause,
                *shots,
                {}};
    }
    throw not_a_plan(text, plans_allowed);
}

} // namespace avrek::cli
