# The path of one shot over a link with a 100 ms round trip, as measured: press, tracer, validation and news.
#     gnuplot -e "set term pngcairo size 1280,800 font 'DejaVu Sans,14'; set output 'docs/screenshots/shot.png'" scripts/shot_figure.gp
unset key
unset border
unset ytics
set xrange [-175:215]
set yrange [0.3:3.75]
set xtics -150,50,200 nomirror out
set xlabel 'ms since the press'
set title 'One shot, from the press to the death (64 ticks and 32 snapshots a second, 100 ms round trip, interpolation 70 ms)'
set arrow 1 from -150,3 to 200,3 nohead lw 2 lc rgb '#5b78a8'
set arrow 2 from -150,2 to 200,2 nohead lw 2 lc rgb '#333333'
set arrow 3 from -150,1 to 200,1 nohead lw 2 lc rgb '#b3432b'
set label 'shooter' at -155,3 right textcolor rgb '#5b78a8'
set label 'server' at -155,2 right textcolor rgb '#333333'
set label 'victim' at -155,1 right textcolor rgb '#b3432b'
# the snapshot drawn at the press
set arrow 4 from -105,2 to -55,3 lc rgb '#888888' dt 2
set label "this snapshot of the\nremote players is\nwhat the shooter\nsees at 0" at -104,1.9 left
set arrow 5 from -55,3 to 0,3 lc rgb '#888888' lw 4 nohead
set label 'waits to be drawn' at -28,3.12 center textcolor rgb '#666666'
# the intent
set arrow 6 from 0,3 to 58,2 lc rgb '#5b78a8' lw 2
set label "press: tracer, recoil\nand one round less at once" at 2,3.36 left
set arrow 7 from 58,2 to 106,2 lc rgb '#888888' lw 4 nohead
set label 'waits for its tick' at 82,2.12 center textcolor rgb '#666666'
# validated
set label "target rewound by 211 ms,\nto what the shooter saw" at 104,1.86 right
set arrow 8 from 106,2 to 156,3 lc rgb '#333333' lw 2
set arrow 9 from 106,2 to 156,1 lc rgb '#333333' lw 2
set label 'confirmed; hit and death' at 152,3.16 center
set label "hit and death" at 158,0.86 left
set label "the victim acts on, without the news" at 104,0.86 right textcolor rgb '#666666'
set object 1 circle at 0,3 size 2 fs solid fc rgb '#5b78a8'
set object 2 circle at 106,2 size 2 fs solid fc rgb '#333333'
set object 3 circle at 156,3 size 2 fs solid fc rgb '#333333'
set object 4 circle at 156,1 size 2 fs solid fc rgb '#333333'
set object 5 circle at -105,2 size 2 fs solid fc rgb '#888888'
plot NaN
