#include "replay_sink.h"

#include "replay_parts.h"

#define XXH_INLINE_ALL
#include <xxhash.h>
#include <zstd.h>

#include <algorithm>
#include <cerrno>
#include <cstdio>

namespace avrek::detail {

namespace {

constexpr int packing = 6; // level of zstd

} // namespace

ReplaySink::ReplaySink(const std::string& file) : file_(std::fopen(file.c_str(), "wb")) {
    if (!file_) {
        fail(errno);
        return;
    }
    // Parts are large, and what a disk does not take must not wait in here for the end of the program.
    static_cast<void>(std::setvbuf(file_.get(), nullptr, _IONBF, 0));
}

void ReplaySink::fail(int fault) {
    int none = 0;
    fault_.compare_exchange_strong(none, fault != 0 ? fault : EIO);
}

void ReplaySink::write(const void* bytes, std::size_t size) {
    errno = 0;
    if (fault() == 0 && std::fwrite(bytes, 1, size, file_.get()) != size) {
        fail(errno);
    }
}

void ReplaySink::write_start() {
    ReplayFileHead start{};
    std::copy_n(replay_mark, sizeof start.mark, start.mark);
    start.version = replay_version;
    write(&start, sizeof start);
}

void ReplaySink::write_part(std::span<const std::uint8_t> record) {
    packed_.resize(ZSTD_compressBound(record.size()));
    const std::size_t size =
        ZSTD_compress(packed_.data(), packed_.size(), record.data(), record.size(), packing);
    if (ZSTD_isError(size) != 0 || record.size() > max_replay_part) {
        fail(EFBIG);
        return;
    }
    const ReplayPartHead head{static_cast<std::uint32_t>(size), static_cast<std::uint32_t>(record.size()),
                              XXH3_64bits(packed_.data(), size)};
    write(&head, sizeof head);
    write(packed_.data(), size);
}

void ReplaySink::end() {
    const ReplayPartHead end{};
    write(&end, sizeof end);
    std::FILE* file = file_.release();
    if (file != nullptr && std::fclose(file) != 0) {
        fail(errno);
    }
}

} // namespace avrek::detail
