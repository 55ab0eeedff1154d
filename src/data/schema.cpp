#include <avrek/data/arsenal_keys.h>

#include <nlohmann/json.hpp>

#include <cmath>

namespace avrek {

namespace {

using Json = nlohmann::ordered_json;

// Whole bounds as whole numbers, as a person would write them.
Json bound(double value) {
    return value == std::floor(value) ? Json(static_cast<std::int64_t>(value)) : Json(value);
}

Json number(const KeyRange& range, const char* type = "number") {
    return {{"type", type},
            {range.above_min ? "exclusiveMinimum" : "minimum", bound(range.min)},
            {"maximum", bound(range.max)}};
}

Json list_of(const Json& items, std::size_t least, std::size_t most) {
    return {{"type", "array"}, {"items", items}, {"minItems", least}, {"maxItems", most}};
}

Json tables_of(const Json& entry) {
    return {{"type", "object"},
            {"patternProperties", {{"^[a-z][a-z0-9]*(-[a-z0-9]+)*$", entry}}},
            {"additionalProperties", false}};
}

Json section(const std::vector<KeyRule>& rules, const std::string& name);

// A table that makes one solid.
Json one_shape(const std::vector<KeyRule>& rules, const std::string& name) {
    Json shape = section(rules, name);
    Json kinds =
        Json::array({Json{{"required", {"sphere", "radius"}}}, Json{{"required", {"capsule", "radius"}}},
                     Json{{"required", {"box", "half"}}}});
    if (shape["properties"].contains("cylinder")) {
        kinds.push_back({{"required", {"cylinder", "radius"}}});
    }
    shape["oneOf"] = kinds;
    return shape;
}

Json value(const std::vector<KeyRule>& rules, const KeyRule& rule) {
    switch (rule.type) {
    case KeyType::integer:
        return number(rule.range, "integer");
    case KeyType::number:
        return number(rule.range);
    case KeyType::flag:
        return {{"type", "boolean"}};
    case KeyType::word:
        return {{"enum", rule.words}};
    case KeyType::words:
        return {{"oneOf",
                 Json::array({Json{{"enum", rule.words}},
                              list_of(Json{{"enum", rule.words}}, static_cast<std::size_t>(rule.range.min),
                                      static_cast<std::size_t>(rule.range.max))})}};
    case KeyType::entry_id:
    case KeyType::other_id:
    case KeyType::text:
        return {{"type", "string"}};
    case KeyType::other_ids:
        return list_of(Json{{"type", "string"}}, 0, 64);
    case KeyType::curve: {
        const Json pair{{"type", "array"},
                        {"prefixItems", Json::array({number({0.0, 1e5, false}), number(rule.range)})},
                        {"minItems", 2},
                        {"maxItems", 2}};
        return list_of(pair, 1, 64);
    }
    case KeyType::pairs:
        return list_of(list_of(number(rule.range), 2, 2), 0, 1000);
    case KeyType::factors:
    case KeyType::multipliers:
        return {{"type", "object"}, {"additionalProperties", number(rule.range)}};
    case KeyType::point:
        return list_of(number(rule.range), 3, 3);
    case KeyType::segment:
        return list_of(list_of(number(rule.range), 3, 3), 2, 2);
    case KeyType::turn:
        return list_of(number(rule.range), 2, 2);
    case KeyType::shape:
        return one_shape(rules, rule.section + ".shape");
    case KeyType::shapes:
        return list_of(one_shape(rules, rule.section + ".shape"), 1, 16);
    case KeyType::table:
        return tables_of(section(rules, rule.section + '.' + rule.name));
    case KeyType::group:
        return section(rules, rule.section + '.' + rule.name);
    }
    return {};
}

// Required keys may come from the entry that an entry is like, or from an earlier file, so none is required
// here.
Json section(const std::vector<KeyRule>& rules, const std::string& name) {
    Json properties = Json::object();
    for (const KeyRule& rule : rules) {
        if (rule.section == name) {
            Json property = value(rules, rule);
            const std::string unit = rule.unit.empty() ? "" : " In " + rule.unit + '.';
            property["description"] =
                rule.meaning + unit + (rule.required ? "" : " Default: " + rule.fallback + '.');
            properties[rule.name] = property;
        }
    }
    return {{"type", "object"}, {"properties", properties}, {"additionalProperties", false}};
}

} // namespace

std::string arsenal_schema() {
    const std::vector<KeyRule> rules = arsenal_keys();
    Json tables = Json::object();
    for (const KeyRule& rule : rules) {
        if (rule.section.find('.') == std::string::npos && !tables.contains(rule.section)) {
            tables[rule.section] = tables_of(section(rules, rule.section));
        }
    }
    const Json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
                      {"title", "Avrek arsenal"},
                      {"type", "object"},
                      {"properties", tables},
                      {"additionalProperties", false}};
    return schema.dump(2) + '\n';
}

} // namespace avrek
