// Any bytes as changes of what a server says: no server can break a client.
#include "../tests/net/told_client.h"

#include <cstddef>
#include <cstdint>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    avrek::trial::ToldClient client{{data, size}};
    client.stops_early = true;
    (void)client.run();
    return 0;
}
