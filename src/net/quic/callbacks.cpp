#include "callbacks.h"

namespace avrek::detail {

struct QuicCallbacks {
    static QuicConnection& of(void* user) { return *static_cast<QuicConnection*>(user); }
    static int outcome(bool is_well) { return is_well ? 0 : NGTCP2_ERR_CALLBACK_FAILURE; }
    static std::span<const std::byte> bytes_of(const std::uint8_t* data, std::size_t size) {
        return {reinterpret_cast<const std::byte*>(data), size};
    }

    static int handshake_completed(ngtcp2_conn*, void* user) { return outcome(of(user).on_handshake()); }
    static int handshake_confirmed(ngtcp2_conn*, void* user) {
        of(user).on_confirmed();
        return 0;
    }
    static int recv_stream_data(ngtcp2_conn*, std::uint32_t, std::int64_t id, std::uint64_t,
                                const std::uint8_t* data, std::size_t size, void* user, void*) {
        return outcome(of(user).on_stream(id, bytes_of(data, size)));
    }
    static int recv_datagram(ngtcp2_conn*, std::uint32_t, const std::uint8_t* data, std::size_t size,
                             void* user) {
        of(user).on_datagram(bytes_of(data, size));
        return 0;
    }
    static int acked_stream_data(ngtcp2_conn*, std::int64_t id, std::uint64_t offset, std::uint64_t size,
                                 void* user, void*) {
        of(user).on_arrived(id, offset + size);
        return 0;
    }
    static void rand(std::uint8_t* to, std::size_t size, const ngtcp2_rand_ctx*) { fill_random(to, size); }
    static int new_id(ngtcp2_conn*, ngtcp2_cid* id, std::uint8_t* token, std::size_t size, void* user) {
        QuicConnection& connection = of(user);
        id->datalen = size;
        fill_random(id->data, size);
        fill_random(token, NGTCP2_STATELESS_RESET_TOKENLEN);
        connection.shared_.route(*id, &connection);
        return 0;
    }
    static int remove_id(ngtcp2_conn*, const ngtcp2_cid* id, void* user) {
        of(user).shared_.route(*id, nullptr);
        return 0;
    }

    static ngtcp2_callbacks make() {
        ngtcp2_callbacks all{};
        all.client_initial = ngtcp2_crypto_client_initial_cb;
        all.recv_client_initial = ngtcp2_crypto_recv_client_initial_cb;
        all.recv_crypto_data = ngtcp2_crypto_recv_crypto_data_cb;
        all.encrypt = ngtcp2_crypto_encrypt_cb;
        all.decrypt = ngtcp2_crypto_decrypt_cb;
        all.hp_mask = ngtcp2_crypto_hp_mask_cb;
        all.recv_retry = ngtcp2_crypto_recv_retry_cb;
        all.update_key = ngtcp2_crypto_update_key_cb;
        all.delete_crypto_aead_ctx = ngtcp2_crypto_delete_crypto_aead_ctx_cb;
        all.delete_crypto_cipher_ctx = ngtcp2_crypto_delete_crypto_cipher_ctx_cb;
        all.get_path_challenge_data = ngtcp2_crypto_get_path_challenge_data_cb;
        all.version_negotiation = ngtcp2_crypto_version_negotiation_cb;
        all.handshake_completed = handshake_completed;
        all.handshake_confirmed = handshake_confirmed;
        all.recv_stream_data = recv_stream_data;
        all.recv_datagram = recv_datagram;
        all.acked_stream_data_offset = acked_stream_data;
        all.rand = rand;
        all.get_new_connection_id = new_id;
        all.remove_connection_id = remove_id;
        return all;
    }
};

const ngtcp2_callbacks& quic_callbacks() {
    static const ngtcp2_callbacks all = QuicCallbacks::make();
    return all;
}

} // namespace avrek::detail
