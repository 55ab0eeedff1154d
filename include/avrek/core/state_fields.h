#pragma once
#include <avrek/core/vectors.h>

#include <concepts>
#include <cstddef>
#include <type_traits>

/// The fields of states, each said once.
///
/// A state lists its fields in a function beside it. The hash, the padding of saved bytes, the names of
/// fields and the wire visit them, so a new field is one line there:
///
///     template <class Visitor>
///     void visit_fields(Visitor&& field, FieldsOf<Credit> auto& credit) {
///         field("source", credit.source);
///         field("damage", credit.damage);
///         field("last", credit.last);
///     }
///
/// - `field(name, member)` visits a number, an enumeration, a time, a vector, a set or another state.
/// - `field(name, member, FieldUse::not_sent)` visits a field that the wire leaves out.
/// - `field.list(name, array, count)` visits an array whose first `count` elements are in use.
/// - `field.when(name, is_used, member)` visits a member that is in use only sometimes.
/// - `field.flag(name, value)` visits a bit-field and returns its value: `x.dry = field.flag("dry", x.dry)`.
namespace avrek {

/// A state, or a constant one, for visit_fields().
template <class State, class Plain>
concept FieldsOf = std::same_as<std::remove_const_t<State>, Plain>;

/// Limit on the use of a field.
enum class FieldUse {
    everywhere,
    not_sent, ///< the client knows it otherwise, or has no use for it
};

/// Visits the position and the rotation of a pose.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Pose> auto& pose) {
    field("position", pose.position);
    field("rotation", pose.rotation);
}

/// Walks through the fields of a state and of the states in it, and gives a sink what it finds:
///
/// - `sink.takes(use)`: whether it wants a field;
/// - `sink.is_whole`: whether it wants unused elements and members too;
/// - `sink.enter(name, index)` and `sink.leave()` around the fields of a state; index -1 outside of arrays;
/// - `sink.leaf(name, member)` for a field, `sink.flag(name, value)` for a bit-field, which returns it.
template <class Sink>
class FieldWalk {
  public:
    /// Walks for `sink`.
    explicit FieldWalk(Sink& sink) : sink_(sink) {}

    /// Visits a field.
    template <class Member>
    void operator()(const char* name, Member& member, FieldUse use = FieldUse::everywhere) {
        if (sink_.takes(use)) {
            visit(name, -1, member);
        }
    }
    /// Visits the elements of an array that are in use.
    template <class Array>
    void list(const char* name, Array& array, std::size_t count, FieldUse use = FieldUse::everywhere) {
        for (std::size_t index = 0; sink_.takes(use) && index < (sink_.is_whole ? array.size() : count);
             ++index) {
            visit(name, static_cast<int>(index), array[index]);
        }
    }
    /// Visits a member if it is in use.
    template <class Member>
    void when(const char* name, bool is_used, Member& member) {
        if (is_used || sink_.is_whole) {
            visit(name, -1, member);
        }
    }
    /// Visits a bit-field, and returns its value.
    bool flag(const char* name, bool value) { return sink_.flag(name, value); }

  private:
    template <class Member>
    void visit(const char* name, int index, Member& member) {
        if constexpr (requires { visit_fields(*this, member); }) {
            sink_.enter(name, index);
            visit_fields(*this, member);
            sink_.leave();
        } else if (index >= 0) {
            sink_.enter(name, index);
            sink_.leaf("value", member);
            sink_.leave();
        } else {
            sink_.leaf(name, member);
        }
    }

    Sink& sink_;
};

} // namespace avrek
