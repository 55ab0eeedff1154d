#!/usr/bin/env bash
# Installs what is missing, builds, and runs the full example on the demo data. Pictures go to out/.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages build plot test
build release --target avrek_cli avrek_playground examples
mkdir -p out
avrek=build/release/avrek
arsenal=data/halm-ring.toml

say() {
    printf '\n$ %s\n' "$*"
    "$@"
}

say $avrek check $arsenal
say $avrek card thorn-rifle $arsenal --plot out/card.png
say $avrek range thorn-rifle $arsenal --at 30 --for 1.6 --aim 1 --plan bursts:4,0.3 --seed 3 --plot out/range.png
say $avrek range thorn-rifle $arsenal --at 25 --for 3 --plan hold --plan bursts:4,0.35 --plan taps:0.2 --speed 0,5 \
    --plot out/range-plans.png
say $avrek range seed-lobber $arsenal --at 17 --look 5,5 --seed 4 --plot out/range-level.png
say $avrek range burl-sling $arsenal --from 0,1.5,-10 --look 40,4 --for 1.5
say $avrek range amber-rail $arsenal --level atrium --for 1.5 --aim 1
say $avrek range pollen-spray $arsenal --for 0.5
say $avrek range sickle $arsenal --for 0.4
say $avrek ttk $arsenal --plot out/ttk.png
say $avrek ttk thorn-rifle reed-carbine $arsenal --target warden --region torso
say $avrek explain needle-pistol $arsenal --at 10 --region head --target warden --with barked
say $avrek bout $arsenal --crew 8 --seed 2 --record out/bout.replay --telemetry out/bout --plot out/bout.png
say $avrek replay out/bout.replay $arsenal
say $avrek match $arsenal --crew 8 --seed 3 --plot out/match.png
say $avrek ttk --distribution thorn-rifle reed-carbine burr-gun $arsenal --at 8,16 --fights 500 --plot out/distribution.png
say $avrek duel $arsenal --at 5,15,30 --plot out/duels.png
say $avrek duel thorn-rifle reed-carbine $arsenal --at 8,16,32 --link station-lan,far-dock
say $avrek solve data/wishes/carbine-even-with-rifle.toml $arsenal --overlay out/even.toml --fights 500
say $avrek diff $arsenal out/even.toml
rm -f out/sweep.csv.part
say $avrek sweep thorn-rifle $arsenal --vary weapon.thorn-rifle.damage=18:26:1 --store out/sweep.csv
say $avrek report thorn-rifle reed-carbine burr-gun amber-rail $arsenal --overlay out/even.toml --page out/report.html
rm -f out/play.db
say $avrek bout $arsenal --crew 8 --seed 4 --for 125 --telemetry out/play.db
say $avrek observe out/play.db $arsenal --target-speed 2 || [ $? -eq 1 ] # 1: some differ
say build/release/examples/ten_lines
say build/release/examples/tune_rifle $arsenal
say build/release/examples/first_shot $arsenal
say build/release/examples/loadout $arsenal
say build/release/examples/own_raycast
say build/release/examples/ricochet data
say build/release/examples/turret data
say build/release/examples/close_quarters $arsenal
say build/release/examples/last_stand $arsenal
say build/release/examples/engine_loop $arsenal
say build/release/examples/rollback data
say build/release/examples/live_tuning data
say build/release/examples/saved_changes data
say build/release/examples/two_peers $arsenal
say build/release/examples/server_and_client $arsenal
say build/release/examples/behind_a_wall $arsenal
say build/release/examples/tickets $arsenal
say build/release/examples/own_movement $arsenal
say build/release/examples/own_abilities $arsenal
say build/release/examples/own_animation $arsenal
# It draws as it goes on a terminal; here the pictures it prints without one are enough.
say build/release/examples/flat_arena $arsenal | cat
say scripts/with_display.sh build/release/avrek-playground $arsenal --script data/playground/tour.toml --exit 8
printf '\nThe pictures are out/card.png, out/range.png, out/range-plans.png, out/range-level.png, out/ttk.png,\nout/bout.png, out/match.png, out/distribution.png and out/duels.png, and three of the\nplayground, out/playground*.png; the report is out/report.html; out/bout\nand out/play.db have telemetry.\n'
