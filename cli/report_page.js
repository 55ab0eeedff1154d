"use strict";
// Draws the report out of the data that stands in the page.
const data = JSON.parse(document.getElementById("data").textContent);
const at = (id) => document.getElementById(id);
const colours = ["#2060a0", "#b3432b", "#4c8c4a", "#8a6aa5", "#c97a1e", "#333333", "#3d8f97", "#a05070", "#86792a", "#6b7f95"];
const dashes = [[], [7, 3], [2, 3], [9, 3, 2, 3], [12, 4]];
const marks = ["circle", "rect", "triangle", "rectRot", "cross", "star", "crossRot"];
const charts = {};

function element(name, text, classes) {
  const made = document.createElement(name);
  if (text !== undefined && text !== null) made.textContent = text;
  if (classes) made.className = classes;
  return made;
}

function number(value, decimals, unit) {
  return value === null || value === undefined ? "-" : value.toFixed(decimals) + (unit || "");
}

// A table with a heading; rows are lists of texts or of elements.
function fill(table, heading, rows) {
  table.replaceChildren();
  const head = table.createTHead().insertRow();
  heading.forEach((text) => {
    const cell = element("th", text);
    cell.scope = "col";
    head.append(cell);
  });
  const body = table.createTBody();
  rows.forEach((row) => {
    const line = body.insertRow();
    row.forEach((value) => {
      const cell = value instanceof HTMLElement ? value : element("td", value);
      line.append(cell);
    });
  });
}

function choose(id, names, texts, changed, first) {
  const select = at(id);
  names.forEach((name, index) => {
    const option = element("option", texts[index]);
    option.value = name;
    select.append(option);
  });
  if (first !== undefined) select.value = first;
  select.addEventListener("change", changed);
}

// One line of a chart, told apart by colour, dashes and marks.
function line(label, points, index, more) {
  return Object.assign({
    label, data: points, borderColor: colours[index % colours.length], backgroundColor: colours[index % colours.length],
    borderDash: dashes[Math.floor(index / 2) % dashes.length], pointStyle: marks[index % marks.length],
    pointRadius: 4, pointHoverRadius: 7, borderWidth: 2, fill: false,
  }, more);
}

function draw(id, datasets, axes, tooltip, more) {
  if (charts[id]) {
    charts[id].data.datasets = datasets;
    Object.assign(charts[id].options.scales.x, axes.x);
    Object.assign(charts[id].options.scales.y, axes.y);
    charts[id].update("none");
    return;
  }
  charts[id] = new Chart(at(id), {
    type: "line",
    data: { datasets },
    options: Object.assign({
      animation: false, responsive: true, maintainAspectRatio: false, parsing: false,
      interaction: { mode: "nearest", intersect: false },
      scales: {
        x: Object.assign({ type: "linear", grid: { color: "#edf0f3" } }, axes.x),
        y: Object.assign({ grid: { color: "#edf0f3" } }, axes.y),
      },
      plugins: { legend: { labels: { usePointStyle: true, boxWidth: 9, boxHeight: 9 } }, tooltip: { callbacks: tooltip } },
    }, more),
  });
}

const title = (text) => ({ display: true, text });
const metres = (index) => data.distances[index] + " m";
const plainShooter = data.shooters[0];

function headings() {
  document.title = data.title;
  at("title").textContent = data.title;
  at("made").textContent = "Arsenal " + data.digest + ", avrek " + data.version + "; targets: " + data.body +
    "; computed: shares of all engagements are within " + data.error + " % in 99 of 100 cases.";
  at("command").textContent = "Made by: " + data.command;
  document.querySelectorAll("main section").forEach((section) => {
    const name = section.querySelector("h2");
    if (!name || section.id === "after" && !data.after) return;
    const link = element("a", name.textContent);
    link.href = "#" + section.id;
    at("nav").append(link);
  });
}

function overview() {
  const shooter = at("overview-shooter").value;
  const places = data.distances.map((d, i) => i).filter((i) => i % Math.ceil(data.distances.length / 4) === 1 || data.distances.length < 5);
  at("overview-what").textContent = "Times: from the pull of the trigger, by when half of all engagements of the " + shooter + " are over, and in brackets how many kill at all within ten seconds.";
  fill(at("overview-table"),
    ["weapon", "arrives", "damage", "shots/min", "magazine", "reaches"].concat(places.map(metres)),
    data.overview.map((row) => [row.name, row.delivery, row.damage, number(row.rate, 0), row.magazine === null ? "-" : row.magazine, row.range + " m"]
      .concat(places.map((place) => {
        const kill = data.kills[shooter][row.name][place];
        return kill.killed < 0.05 ? "-" : number(kill.p50, 0, " ms") + " (" + number(kill.killed, 0) + " %)";
      }))));
}

function shownWeapons() {
  return data.weapons.filter((name) => at("ttk-" + name.replace(/ /g, "_")).checked);
}

function overDistance() {
  const shooter = at("ttk-shooter").value;
  const lines = data.weapons.map((name, index) => {
    const points = data.kills[shooter][name]
      .map((kill, place) => ({ x: data.distances[place], y: kill.p50, kill }))
      .filter((point) => point.y !== null);
    return line(name, points, index, { hidden: !shownWeapons().includes(name) });
  }).filter((set) => !set.hidden);
  draw("ttk", lines, { x: { title: title("distance, m"), min: 0 }, y: { title: title("time to kill, ms"), min: 0 } }, {
    title: (items) => items.length ? items[0].dataset.label + " at " + items[0].parsed.x + " m" : "",
    label: (item) => {
      const kill = item.raw.kill;
      return ["10 %: " + number(kill.p10, 0, " ms") + ", half: " + number(kill.p50, 0, " ms") + ", 90 %: " + number(kill.p90, 0, " ms"),
        number(kill.killed, 1, " % die") + ", " + number(kill.magazine, 1, " % within a magazine") + ", " + number(kill.shots, 1, " shots")];
    },
  });
}

function distribution() {
  const weapon = at("cdf-weapon").value;
  const place = Number(at("cdf-distance").value);
  const words = [];
  const latest = Math.max(...data.shooters.map((shooter) => Math.max(0, ...data.kills[shooter][weapon][place].curve.map((point) => point[0]))));
  const lines = data.shooters.map((shooter, index) => {
    const kill = data.kills[shooter][weapon][place];
    words.push(shooter + ": half in " + number(kill.p50, 0, " ms") + ", " + number(kill.killed, 1, " % at all"));
    const points = [{ x: 0, y: 0 }].concat(kill.curve.map((point) => ({ x: point[0], y: point[1] })));
    points.push({ x: latest, y: points[points.length - 1].y });
    return line(shooter, points, index, { stepped: "before", pointRadius: 0, borderDash: dashes[index % dashes.length] });
  });
  draw("cdf", lines, { x: { title: title("since the pull of the trigger, ms"), min: 0 }, y: { title: title("dead, %"), min: 0, max: 100 } }, {
    title: (items) => items.length ? number(items[0].parsed.x, 0, " ms") : "",
    label: (item) => item.dataset.label + ": " + number(item.parsed.y, 1, " % dead"),
  });
  at("cdf-words").textContent = weapon + " at " + metres(place) + ". " + words.join("; ") + ".";
}

function duels() {
  const place = Number(at("duel-distance").value);
  const board = data.duels[at("duel-shooter").value][place];
  const rows = data.weapons.map((name, row) => [element("th", (row + 1) + " " + name)].concat(data.weapons.map((other, column) => {
    const [rate, wins, loses, trades, neither, left] = board[row][column];
    const cell = element("td", neither > 99.5 ? "-" : Math.round(rate), "cell");
    const share = neither > 99.5 ? 0.5 : rate / 100;
    const strength = Math.abs(share - 0.5) * 1.6;
    cell.style.background = share >= 0.5 ? "rgba(32, 96, 160, " + strength + ")" : "rgba(179, 67, 43, " + strength * 0.45 + ")";
    cell.style.color = share > 0.8 ? "#fff" : "";
    cell.style.fontWeight = share > 0.55 ? "700" : "400";
    cell.tabIndex = 0;
    const tell = () => {
      at("duel-words").textContent = name + " against " + other + " at " + metres(place) + ": wins " + wins + " %, loses " + loses + " %, trades " +
        trades + " %, neither dies " + neither + " %; " + name + " has " + left + " % of its health left when it wins.";
    };
    cell.addEventListener("mouseenter", tell);
    cell.addEventListener("focus", tell);
    return cell;
  })));
  fill(at("board"), [metres(place)].concat(data.weapons.map((name, index) => index + 1)), rows);
}

function handling() {
  const weapon = at("hand-weapon").value;
  const of = data.handling[weapon];
  const cone = (name, index) => line(name, of[name].cones.map((y, x) => ({ x: x + 1, y })), index);
  draw("cone", [cone("hip", 0), cone("aimed", 1)], { x: { title: title("shot"), min: 0 }, y: { title: title("half-angle, degrees"), min: 0 } }, {
    title: (items) => items.length ? "shot " + items[0].parsed.x : "",
    label: (item) => item.dataset.label + ": " + number(item.parsed.y, 2, " degrees"),
  });
  const path = (name, index) => line(name, of[name].recoil.map((point) => ({ x: point[0], y: point[1] })), index, { type: "scatter", showLine: true });
  draw("kick", [path("hip", 0), path("aimed", 1)], { x: { title: title("to the right, degrees") }, y: { title: title("up, degrees") } }, {
    title: (items) => items.length ? items[0].dataset.label + ", shot " + (items[0].dataIndex + 1) : "",
    label: (item) => number(item.parsed.x, 2) + " right, " + number(item.parsed.y, 2) + " up",
  });
  at("recoil-words").textContent = weapon;
}

function links() {
  at("links-what").textContent = "Computed for a server with 64 ticks and 32 snapshots a second. View delay: age of the remote players as drawn; " +
    "beyond: its part beyond max_rewind; news: from an event on the server to its news; corner: head start of the player who comes round a corner; " +
    "cover: how long a player in cover can still die, on the server and in its own view.";
  fill(at("links-table"), ["link", "round trip", "jitter", "lost", "view delay", "beyond", "news", "corner", "cover, server", "cover, victim"],
    data.links.map((row) => [row.name, row.latency + " ms", row.jitter + " ms", row.loss + " %", row.view_delay + " ms", row.unrewound + " ms", row.news + " ms",
      row.corner + " ms", row.cover_server + " ms", row.cover_victim + " ms"]));
}

function late() {
  const weapon = at("link-weapon").value;
  draw("late", [line(weapon, (data.link_wins[weapon] || []).map((point) => ({ x: point[0], y: point[1] })), 0)],
    { x: { title: title("sees the other later by, ms"), min: 0 }, y: { title: title("duels that it wins, %"), min: 0, max: 60 } }, {
      title: (items) => items.length ? items[0].parsed.x + " ms later" : "",
      label: (item) => "wins " + number(item.parsed.y, 1, " %"),
    });
}

function breakpoints() {
  fill(at("break-table"), ["weapon", "damage", "shots", "one fewer from", "one more below", "shots by distance"], data.breakpoints.map((row) => {
    const close = (off) => off !== null && Math.abs(off) < 2;
    const edge = (off) => element("td", off === null ? "-" : (off > 0 ? "+" : "") + off + " %" + (close(off) ? " (close)" : ""), close(off) ? "close" : "");
    const all = row.stretches.map((one) => (one[2] === 0 ? "none" : one[2]) + " to " + one[1] + " m");
    const left = all.length - 13;
    const words = (left > 1 ? [...all.slice(0, 12), "... " + left + " left out", all.at(-1)] : all).join(", ");
    return [row.name, row.damage, row.shots === 0 ? "-" : row.shots, edge(row.fewer_from), edge(row.more_below), element("td", words, "text")];
  }));
}

function sensitivity() {
  const of = data.sensitivity[at("sense-weapon").value];
  at("sense-at").textContent = "at " + of.at + " m, as " + plainShooter;
  fill(at("sense-table"), ["number", "is", "% of time for each %", "points of wins for each %", "does something from"], of.rows.slice(0, 24).map((row) =>
    [row.path, row.value, number(row.time, 2), number(row.wins, 2), row.acts === null ? "not at all" : (row.acts > 0 ? "+" : "") + number(row.acts, 0, " %")]));
}

function after() {
  const weapon = at("after-weapon").value;
  const before = data.kills[plainShooter][weapon];
  const now = data.after.kills[weapon];
  const points = (kills) => kills.map((kill, place) => ({ x: data.distances[place], y: kill.p50 })).filter((point) => point.y !== null);
  draw("both", [line("before", points(before), 5), line("after", points(now), 0, { borderDash: [] })],
    { x: { title: title("distance, m"), min: 0 }, y: { title: title("time to kill, ms"), min: 0 } }, {
      title: (items) => items.length ? items[0].parsed.x + " m" : "",
      label: (item) => item.dataset.label + ": " + number(item.parsed.y, 0, " ms"),
    });
  fill(at("after-table"), [weapon].concat(data.distances.map((d, place) => metres(place))), [
    ["half dead, before"].concat(before.map((kill) => number(kill.p50, 0, " ms"))),
    ["after"].concat(now.map((kill, place) => {
      const was = before[place].p50;
      return element("td", number(kill.p50, 0, " ms"), kill.p50 !== null && was !== null && kill.p50 !== was ? (kill.p50 < was ? "better" : "worse") : "");
    })),
    ["wins of all, before"].concat(data.standings[plainShooter][weapon].rates.map((rate) => number(rate, 0, " %"))),
    ["after"].concat(data.after.standings[weapon].rates.map((rate) => number(rate, 0, " %"))),
  ]);
}

function begin() {
  headings();
  const places = data.distances.map((d, i) => String(i));
  const middle = String(Math.floor(data.distances.length / 2));
  choose("overview-shooter", data.shooters, data.shooters, overview);
  choose("ttk-shooter", data.shooters, data.shooters, overDistance);
  data.weapons.forEach((name, index) => {
    const label = element("label");
    const box = element("input");
    box.type = "checkbox";
    box.id = "ttk-" + name.replace(/ /g, "_");
    box.checked = data.kills[plainShooter][name].filter((kill) => kill.p50 !== null).length > 1;
    box.addEventListener("change", overDistance);
    label.append(box, " " + name);
    at("ttk-weapons").append(label);
  });
  choose("cdf-weapon", data.weapons, data.weapons, distribution);
  choose("cdf-distance", places, data.distances.map((d, i) => metres(i)), distribution, middle);
  choose("duel-distance", places, data.distances.map((d, i) => metres(i)), duels, middle);
  choose("duel-shooter", data.shooters, data.shooters, duels);
  const fired = Object.keys(data.handling || {});
  choose("hand-weapon", fired, fired, handling);
  const linked = Object.keys(data.link_wins || {});
  choose("link-weapon", linked, linked, late);
  choose("sense-weapon", data.weapons, data.weapons, sensitivity);
  overview();
  overDistance();
  distribution();
  duels();
  if (fired.length) handling();
  links();
  if (linked.length) late();
  breakpoints();
  sensitivity();
  if (data.after) {
    at("after").hidden = false;
    at("after-what").textContent = "With " + data.after.files + ", as " + plainShooter + ".";
    fill(at("change-table"), ["number", "before", "after"], data.after.changes.map((row) => [row[0], row[1] || "-", row[2] || "-"]));
    const changed = data.weapons.find((name) => data.after.changes.some((row) => row[0].startsWith("weapon." + name + "."))) || data.weapons[0];
    choose("after-weapon", data.weapons, data.weapons, after, changed);
    after();
  }
  window.addEventListener("beforeprint", () => Object.values(charts).forEach((chart) => chart.resize()));
  document.body.dataset.ready = "yes";
}

begin();
