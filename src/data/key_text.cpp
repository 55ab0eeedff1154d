#include <avrek/data/arsenal_keys.h>

namespace avrek {

namespace {

std::string joined(const std::vector<std::string>& words) {
    std::string text;
    for (const std::string& word : words) {
        text += (text.empty() ? "\"" : " or \"") + word + '"';
    }
    return text;
}

} // namespace

std::string allowed_text(const KeyRule& rule) {
    const std::string range = to_string(rule.range);
    const std::string unit = rule.unit.empty() ? "" : ' ' + rule.unit;
    switch (rule.type) {
    case KeyType::integer:
        return "a whole number from " + range + unit;
    case KeyType::number:
        return range + unit;
    case KeyType::flag:
        return "true or false";
    case KeyType::word:
        return joined(rule.words);
    case KeyType::words:
        return "a list of " + range + " of " + joined(rule.words) + ", or one alone";
    case KeyType::entry_id:
        return "the id of another " + rule.section;
    case KeyType::other_id:
        return rule.refers == "reaction"
                   ? "none, light, heavy, or the name of one defined as [body.ID.reaction.NAME]"
                   : "the id of one, defined as [" + rule.refers + ".ID]";
    case KeyType::other_ids:
        return "a list of ids, each defined as [" + rule.refers + ".ID]";
    case KeyType::factors:
        return "a table of ids, each defined as [" + rule.refers + ".ID], and numbers, " + range;
    case KeyType::shape:
        return "a table with the keys of " + rule.section + ".shape";
    case KeyType::text:
        return "a name in quotes";
    case KeyType::curve:
        return "1 to 64 pairs [x, y], x rising from 0 to 100000, y " + range;
    case KeyType::pairs:
        return "a list of up to 1000 pairs [x, y], each " + range + unit;
    case KeyType::multipliers:
        return "a table of region names and numbers, " + range;
    case KeyType::point:
        return "[x, y, z], each " + range + unit;
    case KeyType::segment:
        return "[[x, y, z], [x, y, z]], each " + range + unit;
    case KeyType::turn:
        return "[yaw, pitch], each " + range + unit;
    case KeyType::shapes:
        return "a list of 1 to 16 tables with the keys of " + rule.section + ".shape";
    case KeyType::table:
        return "1 to 64 tables [" + rule.section + ".ID." + rule.name + ".NAME]";
    case KeyType::group:
        return "a table with the keys of " + rule.section + '.' + rule.name;
    }
    return {};
}

std::string to_string(KeyType type) {
    switch (type) {
    case KeyType::integer:
        return "whole number";
    case KeyType::number:
        return "number";
    case KeyType::flag:
        return "true or false";
    case KeyType::word:
        return "word";
    case KeyType::words:
        return "words";
    case KeyType::entry_id:
    case KeyType::other_id:
        return "id";
    case KeyType::other_ids:
        return "list of ids";
    case KeyType::text:
        return "name";
    case KeyType::curve:
        return "curve";
    case KeyType::pairs:
        return "list of pairs";
    case KeyType::factors:
    case KeyType::multipliers:
    case KeyType::shape:
    case KeyType::table:
    case KeyType::group:
        return "table";
    case KeyType::point:
        return "point";
    case KeyType::segment:
        return "two points";
    case KeyType::turn:
        return "two angles";
    case KeyType::shapes:
        return "list of shapes";
    }
    return {};
}

} // namespace avrek
