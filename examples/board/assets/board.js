// The table of departures, kept as it is now. The server makes each text; without this script the page is right until it is old.

import { texts } from "/texts/crow-fly.js";

const t = texts();
const table = document.querySelector("tbody");
const gone = document.getElementById("gone");

async function refresh() {
  const answer = await fetch(`/departures${location.search}`);
  const departures = await answer.json();
  // All texts of the table are asked for together.
  const rows = departures.map(({ time, ...sailing }) => {
    const row = document.createElement("tr");
    const shown = [["board.time", { time }], ["board.row", sailing]];
    return { row, done: shown.map((text) => t.show(row.appendChild(document.createElement("td")), ...text)) };
  });
  // The table changes when all of it is there, in the language that the page has by then.
  const shown = await Promise.all(rows.flatMap(({ done }) => done));
  if (!shown.every(Boolean)) return;
  table.replaceChildren(...rows.map(({ row }) => row));
  gone.hidden = rows.length > 0;
}

// What cannot be had now is asked for again.
setInterval(() => refresh().catch(() => {}), Number(document.querySelector("table").dataset.every));

for (const link of document.querySelectorAll("[hreflang]")) {
  link.addEventListener("click", (event) => {
    event.preventDefault();
    t.change(link.hreflang).catch(() => location.assign(link.href));
  });
}

document.documentElement.dataset.awake = "true";
