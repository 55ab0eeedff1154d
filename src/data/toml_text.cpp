#include "toml_text.h"

#include <algorithm>
#include <charconv>
#include <cstdio>

namespace avrek::detail {

namespace {

// A real number in as few digits as tell it apart: 0.65 and not 0.65000000000000002.
std::string digits_of(double value) {
    char digits[64];
    std::string text{digits, std::to_chars(digits, digits + sizeof digits, value).ptr};
    return text.find_first_of(".en") == std::string::npos ? text + ".0" : text;
}

std::string in_quotes(std::string_view word) {
    std::string text = "\"";
    for (const char letter : word) {
        if (letter == '"' || letter == '\\') {
            text += {'\\', letter};
        } else if (static_cast<unsigned char>(letter) < 0x20U || letter == 0x7f) {
            char escape[8];
            std::snprintf(escape, sizeof escape, "\\u%04X", static_cast<unsigned int>(letter));
            text += escape;
        } else {
            text += letter;
        }
    }
    return text + '"';
}

} // namespace

std::string key_text(std::string_view key) {
    const bool is_bare = !key.empty() && std::all_of(key.begin(), key.end(), [](char letter) {
        return (letter >= 'a' && letter <= 'z') || (letter >= 'A' && letter <= 'Z') ||
               (letter >= '0' && letter <= '9') || letter == '-' || letter == '_';
    });
    return is_bare ? std::string{key} : in_quotes(key);
}

std::string value_text(const toml::node& node) {
    if (const toml::array* array = node.as_array()) {
        std::string text;
        for (const toml::node& inner : *array) {
            text += (text.empty() ? "" : ", ") + value_text(inner);
        }
        return "[" + text + "]";
    }
    if (const toml::table* table = node.as_table()) {
        std::string text;
        for (const auto& [key, inner] : *table) {
            text += (text.empty() ? "" : ", ") + key_text(key.str()) + " = " + value_text(inner);
        }
        return "{" + text + "}";
    }
    if (const auto* real = node.as_floating_point()) {
        return digits_of(real->get());
    }
    if (const auto* whole = node.as_integer()) {
        return std::to_string(whole->get());
    }
    if (const auto* flag = node.as_boolean()) {
        return flag->get() ? "true" : "false";
    }
    const auto* word = node.as_string();
    return word != nullptr ? in_quotes(word->get()) : "?";
}

void print_toml(const toml::table& table, const std::string& path, std::string& text) {
    std::string values;
    for (const auto& [key, node] : table) {
        if (!node.is_table()) {
            values += key_text(key.str()) + " = " + value_text(node) + '\n';
        }
    }
    if (!values.empty() || (table.empty() && !path.empty())) {
        text += (text.empty() ? "[" : "\n[") + path + "]\n" + values;
    }
    for (const auto& [key, node] : table) {
        if (const toml::table* inner = node.as_table()) {
            const std::string name = key_text(key.str());
            print_toml(*inner, path.empty() ? name : path + '.' + name, text);
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
    all[path] = node.is_string() ? *node.value<std::string>() : value_text(node);
}

} // namespace avrek::detail
