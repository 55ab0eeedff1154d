#include "target_options.h"

#include "arsenal_options.h"

#include <fmt/format.h>

#include <charconv>

namespace avrek::cli {

namespace {

constexpr double max_strength = 1000.0;

NewCondition condition_named(const Arsenal& arsenal, const std::string& option, const std::string& text) {
    const std::size_t colon = text.find(':');
    const std::string id = text.substr(0, colon);
    const auto spec = arsenal.condition(id);
    if (!spec) {
        throw unknown_name("condition", id, ids_of(arsenal.conditions));
    }
    NewCondition condition{*spec};
    if (colon != std::string::npos) {
        const std::string strength = text.substr(colon + 1);
        const auto [end, fault] =
            std::from_chars(strength.data(), strength.data() + strength.size(), condition.strength);
        const bool read = fault == std::errc{} && end == strength.data() + strength.size();
        if (!read || !(condition.strength > 0.0) || condition.strength > max_strength) {
            throw WrongCall{{fmt::format(
                "error: {}: '{}' is not allowed; allowed: CONDITION or CONDITION:STRENGTH, over 0 to 1000",
                option, text)}};
        }
    }
    return condition;
}

std::string conditions_text(const Arsenal& arsenal, const std::vector<NewCondition>& conditions) {
    std::string text;
    for (const NewCondition& condition : conditions) {
        text += (text.empty() ? "" : " and ") + arsenal[condition.spec].id;
        text += condition.strength != 1.0 ? fmt::format(" of {:g}", condition.strength) : "";
    }
    return text;
}

} // namespace

void add_target(Command& command, TargetOptions& options) {
    command.text("--target", options.body, "BODY", "Body of the target; the arsenal's first by default");
    command.repeated("--with", options.with, "CONDITION[:STRENGTH]",
                     "A condition that the target has at the first hit; repeat for several");
    command.repeated("--attacker-with", options.attacker_with, "CONDITION[:STRENGTH]",
                     "A condition that the attacker has; repeat for several");
    command.number("--guard", options.guard, {0.0, 180.0, "degrees"}, "DEGREES",
                   "The target holds its guard; hits come this far off its front");
}

Target target_of(const Arsenal& arsenal, const TargetOptions& options) {
    const BodySpec& body = body_of(arsenal, options.body);
    Target target{.body = &body, .conditions = arsenal.conditions};
    for (const std::string& text : options.with) {
        target.with.push_back(condition_named(arsenal, "--with", text));
    }
    for (const std::string& text : options.attacker_with) {
        target.attacker_with.push_back(condition_named(arsenal, "--attacker-with", text));
    }
    if (options.guard) {
        if (!body.guard) {
            std::string guarding;
            for (const BodySpec& other : arsenal.bodies) {
                guarding += other.guard ? (guarding.empty() ? "" : ", ") + other.id : "";
            }
            throw WrongCall{{fmt::format("error: --guard: the body '{}' has no guard; allowed: {}", body.id,
                                         guarding.empty() ? "none of this arsenal has one" : guarding)}};
        }
        target.guard = from_degrees(*options.guard);
    }
    return target;
}

std::string target_text(const Arsenal& arsenal, const Target& target) {
    std::string text = fmt::format("{} ({:g} health", target.body->id, target.body->health);
    for (const DefenceLayerSpec& layer : target.body->defence) {
        text += layer.start > 0.0 ? fmt::format(", {} {:g}", layer.name, layer.start) : "";
    }
    text += ')';
    if (!target.with.empty()) {
        text += ", with " + conditions_text(arsenal, target.with);
    }
    if (target.guard) {
        text += fmt::format(", guard held {:g} degrees off", to_degrees(*target.guard));
    }
    if (!target.attacker_with.empty()) {
        text += ", attacker with " + conditions_text(arsenal, target.attacker_with);
    }
    return text;
}

} // namespace avrek::cli
