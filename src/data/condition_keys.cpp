#include "key_making.h"

namespace avrek::data {

namespace {

using Condition = ConditionSpec;

Group<Condition> grants_group() {
    Rows<Condition> rows{"condition.grants"};
    rows.name("layer", "none", "The layer of the body that gets points, if it has one of this name.",
              [](Condition& spec, const std::string& name) { spec.grants_layer = name; });
    rows.number("points", {0.0, 1e6, false}, "points", "0", "How many, times strength.",
                [](Condition& spec, double value) { spec.grants_points = value; });
    return {"grants", rows.rows};
}

void add_course(Rows<Condition>& rows) {
    rows.number("lasts", {0.0, 86400.0, false}, "s", "until something ends it", "0: it is over at once.",
                [](Condition& spec, double value) { spec.lasts = from_seconds(value); });
    rows.seconds("period", "0: it does not tick", "Between two ticks.",
                 [](Condition& spec, double value) { spec.period = from_seconds(value); });
    rows.flag("ticks_at_once", "false", "The first tick falls as it begins, not a period later.",
              [](Condition& spec, bool value) { spec.ticks_at_once = value; });
    rows.number(
        "amount", {0.0, 100000.0, false}, "health", "0",
        "What a tick takes, or heals if its kind does; of one that is over at once, what it does. Times "
        "strength, and times how often it counts.",
        [](Condition& spec, double value) { spec.amount = value; });
    rows.other("kind", "damage", "none", "The kind of that damage or healing.",
               [](Condition& spec, const std::string& id) { spec.kind.id = id; });
    rows.word("stacking", words_of<Stacking>(5), "\"refresh\"", "What a second one of the same does.",
              [](Condition& spec, std::size_t word) { spec.stacking = static_cast<Stacking>(word); });
    rows.integer("most", {1.0, 1000.0, false}, "", "1", "How often it counts at most, with stacking count.",
                 [](Condition& spec, std::int32_t value) { spec.most = value; });
    rows.number("longest", {0.0, 86400.0, true}, "s", "60",
                "What is left of it at most, with stacking extend.",
                [](Condition& spec, double value) { spec.longest = from_seconds(value); });
}

void add_changes(Rows<Condition>& rows) {
    rows.number(
        "damage_taken", factor, "", "1",
        "What it makes of damage to its bearer. Of this and the next three a strength of s counts as 1 + "
        "(value - 1) s.",
        [](Condition& spec, double value) { spec.damage_taken = value; });
    rows.number("damage_dealt", factor, "", "1", "What it makes of damage by its bearer.",
                [](Condition& spec, double value) { spec.damage_dealt = value; });
    rows.number("speed", factor, "", "1", "What it makes of its bearer's speed.",
                [](Condition& spec, double value) { spec.speed = value; });
    rows.number("spread", factor, "", "1", "What it makes of its bearer's spread.",
                [](Condition& spec, double value) { spec.spread = value; });
    rows.words("forbids", words_of<Act>(act_count), {0.0, 5.0, false}, "none",
               "What its bearer does not do meanwhile.",
               [](Condition& spec, const std::vector<std::size_t>& words) { spec.forbids = act_set(words); });
    rows.others(
        "cancels", "condition", "none", "What it ends when it comes.",
        [](Condition& spec, const std::vector<std::string>& ids) { spec.cancels = entry_names(ids); });
    rows.others(
        "prevents", "condition", "none", "What cannot come while it lasts.",
        [](Condition& spec, const std::vector<std::string>& ids) { spec.prevents = entry_names(ids); });
    rows.words("ends_when", words_of<ConditionEnd>(condition_end_count), {0.0, 5.0, false}, "none",
               "What ends it before its time: what its bearer suffers or does.",
               [](Condition& spec, const std::vector<std::size_t>& words) {
                   spec.ends_when.clear();
                   for (const std::size_t word : words) {
                       spec.ends_when.push_back(static_cast<ConditionEnd>(word));
                   }
               });
}

} // namespace

const std::vector<Key<DamageKindSpec>>& damage_kind_keys() {
    static const std::vector<Key<DamageKindSpec>> keys = [] {
        Rows<DamageKindSpec> rows{"damage"};
        rows.like();
        rows.flag("heals", "false", "It gives health instead of taking it.",
                  [](DamageKindSpec& kind, bool value) { kind.heals = value; });
        rows.flag("guardable", "true", "A guard may stop it.",
                  [](DamageKindSpec& kind, bool value) { kind.guardable = value; });
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

} // namespace avrek::data
