#include "toml_text.h"

#include <charconv>

namespace avrek::detail {

namespace {

// A real number in as few digits as tell it apart: 0.65 and not 0.65000000000000002.
std::string text_of(double value) {
    char digits[64];
    std::string text{digits, std::to_chars(digits, digits + sizeof digits, value).ptr};
    return text.find_first_of(".en") == std::string::npos ? text + ".0" : text;
}

// A value as it could stand in a file; of texts only what needs no escapes.
std::string text_of(const toml::node& node) {
    if (const toml::array* array = node.as_array()) {
        std::string text;
        for (const toml::node& inner : *array) {
            text += (text.empty() ? "" : ", ") + text_of(inner);
        }
        return "[" + text + "]";
    }
    if (const auto* real = node.as_floating_point()) {
        return text_of(real->get());
    }
    if (const auto* whole = node.as_integer()) {
        return std::to_string(whole->get());
    }
    if (const auto* flag = node.as_boolean()) {
        return flag->get() ? "true" : "false";
    }
    const auto* word = node.as_string();
    return word != nullptr ? '"' + word->get() + '"' : "?";
}

} // namespace

void print_toml(const toml::table& table, const std::string& path, std::string& text) {
    std::string values;
    for (const auto& [key, node] : table) {
        if (!node.is_table()) {
            values += std::string{key.str()} + " = " + text_of(node) + '\n';
        }
    }
    if (!values.empty()) {
        text += (text.empty() ? "[" : "\n[") + path + "]\n" + values;
    }
    for (const auto& [key, node] : table) {
        if (const toml::table* inner = node.as_table()) {
            print_toml(*inner, path.empty() ? std::string{key.str()} : path + '.' + std::string{key.str()},
                       text);
        }
    }
}

void flatten(const toml::node& node, const std::string& path, std::map<std::string, std::string>& all) {
    if (const toml::table* table = node.as_table()) {
        for (const auto& [key, inner] : *table) {
            flatten(inner, path.empty() ? std::string{key.str()} : path + '.' + std::string{key.str()}, all);
        }
        return;
    }
    all[path] = node.is_string() ? *node.value<std::string>() : text_of(node);
}

} // namespace avrek::detail
