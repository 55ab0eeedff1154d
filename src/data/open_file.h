#pragma once
#include <cstdio>
#include <memory>

namespace avrek::detail {

struct FileClosing {
    void operator()(std::FILE* file) const { std::fclose(file); }
};

/// A file that is closed with its owner; null: not open.
using OpenFile = std::unique_ptr<std::FILE, FileClosing>;

} // namespace avrek::detail
