"use strict";
// The page of a survey. All text of strangers goes in as text, never as markup.

const data = JSON.parse(document.getElementById("data").textContent);
const LEVELS = ["error", "warning", "note"];
const KNOWN = data.since ? `there at ${data.since} already` : "accepted by the baseline";
const STATES = ["new", KNOWN, "left alone by a comment"];
const ROW = 46;

function make(name, options = {}, ...inside) {
  const element = document.createElement(name);
  for (const [key, value] of Object.entries(options)) {
    if (key === "on") element.addEventListener("click", value);
    else if (key === "class") element.className = value;
    else if (value !== null && value !== false) element.setAttribute(key, value);
  }
  element.append(...inside.filter((one) => one !== null && one !== ""));
  return element;
}

function count(number) { return number.toLocaleString("en"); }
function plural(number, word) { return `${count(number)} ${word}${number === 1 ? "" : "s"}`; }
function folderOf(path) { const at = path.lastIndexOf("/"); return at < 0 ? "." : path.slice(0, at); }

// ------------------------------------------------------------------ findings as objects

const all = data.findings.map((row, number) => {
  const [rule, path, line, column, message, code, from, to, state, reason, before, after] = row;
  const about = data.rules[rule];
  return {
    number, rule: about.name, level: about.levels ? row[12] : about.level, path: data.paths[path],
    owner: data.owners.length ? data.owners[path] : "", folder: folderOf(data.paths[path]),
    line, column, message: message || about.summary, code, from, to, state, reason, before, after,
  };
});
const shown = all.filter((one) => one.state === 0);

// ------------------------------------------------------------------ tabs

const tabs = [...document.querySelectorAll("nav button")];
function open(name) {
  for (const tab of tabs) {
    const isIt = tab.dataset.tab === name;
    tab.setAttribute("aria-selected", isIt);
    tab.tabIndex = isIt ? 0 : -1;
    document.getElementById(tab.dataset.tab).hidden = !isIt;
  }
  if (name === "findings") draw();
}
tabs.forEach((tab, at) => {
  tab.addEventListener("click", () => open(tab.dataset.tab));
  tab.addEventListener("keydown", (event) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!step) return;
    const next = tabs[(at + step + tabs.length) % tabs.length];
    next.focus();
    open(next.dataset.tab);
  });
});

// ------------------------------------------------------------------ overview

function tally(key) {
  const table = new Map();
  for (const one of shown) table.set(one[key], (table.get(one[key]) || 0) + 1);
  return [...table].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
}

function totals(title, key, most = 20) {
  const rows = tally(key);
  if (!rows.length) return make("div");
  const top = rows[0][1];
  const body = rows.slice(0, most).map(([name, number]) => {
    const bar = make("div", { class: "bar" });
    bar.style.width = `${Math.round((100 * number) / top)}%`;
    const pick = make("button", { on: () => { choose(key, name); open("findings"); } }, name || "nobody");
    return make("tr", {}, make("td", {}, pick), make("td", { class: "number" }, count(number)), make("td", { class: "bars" }, bar));
  });
  const head = make("tr", {}, make("th", {}, title), make("th", { class: "number" }, "findings"), make("th", {}, ""));
  const more = rows.length > most ? make("p", { class: "empty" }, `and ${plural(rows.length - most, "more")}`) : "";
  return make("div", {}, make("h2", {}, `By ${title}`), make("table", {}, make("thead", {}, head), make("tbody", {}, ...body)), more);
}

function trend() {
  if (data.trend.length < 2) return make("div");
  const width = 640, height = 150, left = 44, bottom = 22;
  const most = Math.max(...data.trend.map((one) => one[1]), 1);
  const x = (at) => left + ((width - left - 10) * at) / (data.trend.length - 1);
  const y = (number) => 8 + (height - bottom - 8) * (1 - number / most);
  const space = "http://www.w3.org/2000/svg";
  const svg = document.createElementNS(space, "svg");
  svg.setAttribute("viewBox", `0 0 ${width} ${height}`);
  svg.setAttribute("role", "img");
  svg.setAttribute("aria-label", `findings over time, ${data.trend.map((one) => one[1]).join(", ")}`);
  const path = document.createElementNS(space, "path");
  path.setAttribute("d", data.trend.map((one, at) => `${at ? "L" : "M"}${x(at)},${y(one[1])}`).join(""));
  svg.append(path);
  const label = (text, at, above, anchor) => {
    const element = document.createElementNS(space, "text");
    element.setAttribute("x", at); element.setAttribute("y", above); element.setAttribute("text-anchor", anchor);
    element.textContent = text;
    svg.append(element);
  };
  label(count(most), left - 6, 14, "end");
  label("0", left - 6, height - bottom, "end");
  label(data.trend[0][0], left, height - 4, "start");
  label(data.trend[data.trend.length - 1][0], width - 10, height - 4, "end");
  return make("div", {}, make("h2", {}, "Over time"), svg);
}

function overview() {
  const levels = tally("level");
  const cards = [
    [count(shown.length), data.compared ? "new findings" : "findings"],
    ...LEVELS.map((level) => [levels.find((one) => one[0] === level), level])
      .filter(([one]) => one).map(([one, level]) => [count(one[1]), level]),
    [count(shown.filter((one) => one.before !== null).length), "with a proved fix"],
    [count(data.conflicts.length), "conflicts"],
    [count(all.filter((one) => one.state === 1).length), data.since ? "there before" : "accepted"],
    [count(all.filter((one) => one.state === 2).length), "left alone"],
    [count(data.files), "files"], [count(data.lines), "lines"],
  ].filter(([number], at) => at === 0 || number !== "0");
  document.getElementById("overview").append(
    make("div", { class: "cards" }, ...cards.map(([number, label]) => make("div", { class: "card" }, make("b", {}, number), make("span", {}, label)))),
    trend(),
    make("div", { class: "columns" }, totals("rule", "rule"), totals("folder", "folder"),
      data.owners.length ? totals("owner", "owner") : "", totals("level", "level")),
    ...(data.problems.length ? [make("h2", {}, "Could not be handled"), make("ul", {}, ...data.problems.map((one) => make("li", {}, one)))] : []),
  );
}

// ------------------------------------------------------------------ the list

const list = document.getElementById("list"), space = document.getElementById("space");
const detail = document.getElementById("detail"), told = document.getElementById("told");
const controls = {
  search: document.getElementById("search"), level: document.getElementById("level"),
  rule: document.getElementById("rule"), folder: document.getElementById("folder"),
  owner: document.getElementById("owner"), state: document.getElementById("state"),
  order: document.getElementById("order"),
};
let found = shown, chosen = -1;

function fill(select, values, label) {
  select.append(make("option", { value: "" }, label), ...values.map((one) => make("option", { value: one }, one || "nobody")));
}
function choose(key, value) {
  for (const name of ["level", "rule", "folder", "owner"]) controls[name].value = name === key ? value : "";
  controls.search.value = "";
  filter();
}

const ORDERS = {
  place: (a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : a.line - b.line || a.column - b.column),
  rule: (a, b) => (a.rule < b.rule ? -1 : a.rule > b.rule ? 1 : ORDERS.place(a, b)),
  level: (a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level) || ORDERS.rule(a, b),
};

function filter() {
  const words = controls.search.value.toLowerCase().split(/\s+/).filter(Boolean);
  const wanted = ["level", "rule", "folder", "owner"].map((key) => [key, controls[key].value]).filter((one) => one[1] !== "");
  const state = controls.state.value;
  found = all.filter((one) => {
    if (state !== "" && one.state !== Number(state)) return false;
    for (const [key, value] of wanted) if (one[key] !== value) return false;
    if (!words.length) return true;
    one.text ??= `${one.path}:${one.line} ${one.rule} ${one.message} ${one.code}`.toLowerCase();
    return words.every((word) => one.text.includes(word));
  }).sort(ORDERS[controls.order.value]);
  chosen = found.length ? 0 : -1;
  list.scrollTop = 0;
  told.textContent = `${count(found.length)} of ${plural(all.length, "finding")}`;
  draw();
  tell();
}

function draw() {
  space.style.height = `${found.length * ROW}px`;
  const first = Math.max(Math.floor(list.scrollTop / ROW) - 5, 0);
  const last = Math.min(first + Math.ceil(list.clientHeight / ROW) + 12, found.length);
  const rows = [];
  for (let at = first; at < last; at += 1) {
    const one = found[at];
    const row = make("div", {
      class: "row", role: "option", id: `row-${at}`, "aria-selected": at === chosen,
      "aria-posinset": at + 1, "aria-setsize": found.length, on: () => select(at),
    },
    make("div", {}, make("span", { class: one.level }, one.level), ` ${one.message}`),
    make("div", { class: "place" }, `${one.path}:${one.line}:${one.column}  ${one.rule}`));
    row.style.top = `${at * ROW}px`;
    rows.push(row);
  }
  space.replaceChildren(...rows);
  if (chosen >= 0) list.setAttribute("aria-activedescendant", `row-${chosen}`);
}

function select(at) {
  chosen = Math.max(0, Math.min(at, found.length - 1));
  const top = chosen * ROW;
  if (top < list.scrollTop) list.scrollTop = top;
  if (top + ROW > list.scrollTop + list.clientHeight) list.scrollTop = top + ROW - list.clientHeight;
  draw();
  tell();
}

function tell() {
  const one = found[chosen];
  if (!one) { detail.replaceChildren(make("p", { class: "empty" }, "No finding is like that.")); return; }
  const about = data.rules.find((rule) => rule.name === one.rule);
  const lead = one.code.length - one.code.trimStart().length;
  const code = make("pre", { class: "line" }, one.code.slice(lead, Math.max(one.from, lead)), make("mark", {}, one.code.slice(one.from, one.to)), one.code.slice(one.to));
  const parts = [
    make("h2", {}, one.message),
    make("p", { class: "place" }, `${one.path}:${one.line}:${one.column}`),
    make("p", {}, make("span", { class: one.level }, one.level), ` ${one.rule}`, one.owner ? `, of ${one.owner}` : "", one.state ? `, ${STATES[one.state]}` : ""),
    code,
  ];
  if (one.before !== null) parts.push(make("h2", {}, "The fix"), make("pre", { class: "cut" }, one.before), make("pre", { class: "added" }, one.after));
  if (one.reason) parts.push(make("p", {}, one.state === 2 ? one.reason : `No fix by itself: ${one.reason}`));
  if (about && about.help) parts.push(make("h2", {}, "The rule"), make("p", {}, about.summary), make("p", {}, about.help));
  detail.replaceChildren(...parts);
}

list.addEventListener("scroll", draw);
list.addEventListener("keydown", (event) => {
  const page = Math.max(Math.floor(list.clientHeight / ROW) - 1, 1);
  const steps = { ArrowDown: chosen + 1, ArrowUp: chosen - 1, PageDown: chosen + page, PageUp: chosen - page, Home: 0, End: found.length - 1 };
  if (!(event.key in steps)) return;
  event.preventDefault();
  select(steps[event.key]);
});
window.addEventListener("resize", draw);
document.addEventListener("keydown", (event) => {
  const isTyping = ["INPUT", "SELECT"].includes(document.activeElement.tagName);
  if (event.key === "/" && !isTyping) { event.preventDefault(); open("findings"); controls.search.focus(); }
});
let waiting = 0;
controls.search.addEventListener("input", () => { clearTimeout(waiting); waiting = setTimeout(filter, 120); });
for (const [name, control] of Object.entries(controls)) if (name !== "search") control.addEventListener("change", filter);

// ------------------------------------------------------------------ conflicts and refusals

function conflicts() {
  const home = document.getElementById("conflicts");
  if (!data.conflicts.length) { home.append(make("p", { class: "empty" }, "No two fixes conflict.")); return; }
  const pairs = new Map();
  for (const one of data.conflicts) {
    const key = JSON.stringify([one.sides[0].rule, (one.sides[1] || one.sides[0]).rule]);
    pairs.set(key, (pairs.get(key) || 0) + 1);
  }
  const rules = [...new Set([...pairs.keys()].flatMap((key) => JSON.parse(key)))].sort();
  const head = make("tr", {}, make("th", {}, ""), ...rules.map((rule, at) => make("th", { title: rule }, `${at + 1}`)));
  const body = rules.map((rule, at) => make("tr", {}, make("th", { scope: "row" }, `${at + 1}  ${rule}`),
    ...rules.map((other) => {
      const number = pairs.get(JSON.stringify([rule, other])) || 0;
      return make("td", { class: number ? "hit" : "" }, number ? count(number) : ".");
    })));
  home.append(
    make("h2", {}, "Rules by rules"),
    make("p", {}, "The row wins over the column; the diagonal counts fixes that fail alone or meet others of their rule."),
    make("table", { class: "matrix" }, make("thead", {}, head), make("tbody", {}, ...body)),
    make("h2", {}, plural(data.conflicts.length, "conflict")),
    ...data.conflicts.slice(0, 500).map((one) => make("div", {},
      make("p", {}, make("b", {}, one.kind), ` ${one.reason}`),
      ...one.sides.map((side) => make("div", {}, make("p", { class: "place" }, `${one.path}:${side.line}:${side.column}  ${side.rule}`),
        make("pre", { class: "cut" }, side.code), side.wanted ? make("pre", { class: "added" }, side.wanted) : "")))),
    data.conflicts.length > 500 ? make("p", { class: "empty" }, `and ${plural(data.conflicts.length - 500, "more")}`) : "",
  );
}

function refusals() {
  const home = document.getElementById("refused");
  const table = new Map();
  for (const one of all) {
    if (!one.reason || one.state === 2) continue;
    const key = JSON.stringify([one.rule, one.reason]);
    table.set(key, [...(table.get(key) || []), one]);
  }
  if (!table.size) { home.append(make("p", { class: "empty" }, "Every fix stands for itself.")); return; }
  const rows = [...table].sort((a, b) => b[1].length - a[1].length).map(([key, some]) => {
    const [rule, reason] = JSON.parse(key);
    const first = some[0];
    return make("tr", {}, make("td", {}, rule), make("td", {}, reason), make("td", { class: "number" }, count(some.length)),
      make("td", { class: "place" }, `${first.path}:${first.line}:${first.column}`));
  });
  const head = ["rule", "why its fix is not shown or made by itself", "findings", "the first"];
  home.append(make("table", {}, make("thead", {}, make("tr", {}, ...head.map((one) => make("th", {}, one)))), make("tbody", {}, ...rows)));
}

document.getElementById("light").addEventListener("click", () => {
  const root = document.documentElement;
  const isDark = "dark" in root.dataset || (!("light" in root.dataset) && matchMedia("(prefers-color-scheme: dark)").matches);
  delete root.dataset.dark; delete root.dataset.light;
  root.dataset[isDark ? "light" : "dark"] = "";
});

const values = (key) => [...new Set(all.map((one) => one[key]))].sort();
fill(controls.level, LEVELS.filter((level) => all.some((one) => one.level === level)), "every level");
fill(controls.rule, values("rule"), "every rule");
fill(controls.folder, values("folder"), "every folder");
fill(controls.owner, values("owner"), "every owner");
controls.owner.hidden = !data.owners.length;
controls.state.append(...STATES.map((name, at) => make("option", { value: at }, name)), make("option", { value: "" }, "all of them"));
overview();
conflicts();
refusals();
filter();
open("overview");
