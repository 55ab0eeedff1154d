#include "key_making.h"

namespace avrek::detail {

namespace {

using Condition = ConditionSpec;

Group<Condition> grants_group() {
    Rows<Condition> rows{"condition.grants"};
    rows.name("defence", "none",
              "Defence layer of the body that gets points, if the body has one of this name.",
              [](Condition& spec, const std::string& name) { spec.grants_defence = name; });
    rows.number("points", {0.0, 1e6, false}, "points", "0", "Points, times strength.",
                [](Condition& spec, double value) { spec.grants_points = value; });
    return {"grants", rows.rows};
}

void add_course(Rows<Condition>& rows) {
    rows.number("lasts", {0.0, 86400.0, false}, "s", "until something ends it",
                "Duration; 0: its effect is instant.",
                [](Condition& spec, double value) { spec.lasts = from_seconds(value); });
    rows.seconds("period", "0: it does not tick", "Time between two ticks.",
                 [](Condition& spec, double value) { spec.period = from_seconds(value); });
    rows.flag("ticks_at_once", "false", "The first tick comes at the start, not a period later.",
              [](Condition& spec, bool value) { spec.ticks_at_once = value; });
    rows.number("amount", {0.0, 100000.0, false}, "health", "0",
                "Damage, or healing if its type heals, of a tick or of an instant condition; times strength "
                "and count.",
                [](Condition& spec, double value) { spec.amount = value; });
    rows.other("type", "damage", "none", "Type of that damage or healing.",
               [](Condition& spec, const std::string& id) { spec.type.id = id; });
    rows.word("stacking", words_of<Stacking>(5), "\"refresh\"",
              "Effect of a second condition of the same id.",
              [](Condition& spec, std::size_t word) { spec.stacking = static_cast<Stacking>(word); });
    rows.integer("max_count", {1.0, 1000.0, false}, "", "1", "Maximum count, with stacking count.",
                 [](Condition& spec, std::int32_t value) { spec.max_count = value; });
    rows.number("max_time", {0.0, 86400.0, true}, "s", "60", "Maximum time left, with stacking extend.",
                [](Condition& spec, double value) { spec.max_time = from_seconds(value); });
}

void add_changes(Rows<Condition>& rows) {
    rows.number("damage_taken", factor, "", "1",
                "Factor for damage to its bearer. In this and the next three, strength s counts as 1 + "
                "(value - 1) s.",
                [](Condition& spec, double value) { spec.damage_taken = value; });
    rows.number("damage_dealt", factor, "", "1", "Factor for damage by its bearer.",
                [](Condition& spec, double value) { spec.damage_dealt = value; });
    rows.number("speed", factor, "", "1", "Factor for its bearer's speed.",
                [](Condition& spec, double value) { spec.speed = value; });
    rows.number("spread", factor, "", "1", "Factor for its bearer's spread.",
                [](Condition& spec, double value) { spec.spread = value; });
    rows.words("forbids", words_of<Act>(act_count), {0.0, 5.0, false}, "none",
               "Acts that its bearer cannot do meanwhile.",
               [](Condition& spec, const std::vector<std::size_t>& words) { spec.forbids = act_set(words); });
    rows.others(
        "cancels", "condition", "none", "Conditions that it ends when it begins.",
        [](Condition& spec, const std::vector<std::string>& ids) { spec.cancels = entry_names(ids); });
    rows.others(
        "prevents", "condition", "none", "Conditions that cannot begin while it lasts.",
        [](Condition& spec, const std::vector<std::string>& ids) { spec.prevents = entry_names(ids); });
    rows.words("ends_when", words_of<ConditionEnd>(condition_end_count), {0.0, 5.0, false}, "none",
               "Events that end it early.", [](Condition& spec, const std::vector<std::size_t>& words) {
                   spec.ends_when.clear();
                   for (const std::size_t word : words) {
                       spec.ends_when.push_back(static_cast<ConditionEnd>(word));
                   }
               });
}

} // namespace

const std::vector<Key<DamageTypeSpec>>& damage_type_keys() {
    static const std::vector<Key<DamageTypeSpec>> keys = [] {
        Rows<DamageTypeSpec> rows{"damage"};
        rows.like();
        rows.flag("heals", "false", "It gives health instead of taking it.",
                  [](DamageTypeSpec& kind, bool value) { kind.heals = value; });
        rows.flag("guardable", "true", "A guard can stop it.",
                  [](DamageTypeSpec& kind, bool value) { kind.guardable = value; });
        return rows.rows;
    }();
    return keys;
}

const std::vector<Group<Condition>>& condition_groups() {
    static const std::vector<Group<Condition>> groups{grants_group()};
    return groups;
}

const std::vector<Key<Condition>>& condition_keys() {
    static const std::vector<Key<Condition>> keys = [] {
        Rows<Condition> rows{"condition"};
        rows.like();
        add_course(rows);
        add_changes(rows);
        for (const Group<Condition>& group : condition_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
