#pragma once
#include "replay_generated.h"
#include <avrek/skirmish/skirmish.h>

#include <span>
#include <vector>

/// Inputs of a fight as a replay records them.
namespace avrek::detail {

record::Point point(const Vector3& at);

/// Puts body updates into a builder.
std::vector<flatbuffers::Offset<record::BodyUpdateRecord>> records_of(flatbuffers::FlatBufferBuilder& builder,
                                                                      std::span<const BodyUpdate> updates);
/// Puts actions into a builder.
std::vector<flatbuffers::Offset<record::ActionRecord>> records_of(flatbuffers::FlatBufferBuilder& builder,
                                                                  std::span<const GameAction> actions);

/// Finds the intents that do not just repeat what the fight has of a combatant.
class ReplayIntents {
  public:
    /// Returns the records of those intents, until the next call; the first one counts if a combatant has
    /// several.
    const std::vector<record::IntentRecord>& changed(std::span<const Intent> intents);
    /// A combatant repeats nothing in the next tick.
    void forget(BodyId who);
    /// Notes the intents that repeat in the next tick, as the skirmish itself has them.
    void note(const Skirmish& skirmish);

  private:
    std::vector<Intent> last_{};                  // by id
    std::vector<record::IntentRecord> changed_{}; // in this tick
    std::vector<BodyId> said_{};                  // who has an intent in this tick, by id
};

} // namespace avrek::detail
