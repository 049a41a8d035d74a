// The booking form, made live. What it says comes from the server: texts that the page hands over, and texts by address.
// Without it the form works all the same.

const page = JSON.parse(document.getElementById("texts").textContent);
const form = document.querySelector("form.booking");
const { name, seats } = form.elements;

/// The text of a message, formatted by the server; none where it cannot be.
async function text(key, values) {
  const query = new URLSearchParams({ key, ...values });
  const answer = await fetch(`${page.textsAddress}?${query}`).catch(() => null);
  return answer?.ok ? answer.json() : null;
}

/// Shows a text where it belongs, in the language it is in.
function show(element, said) {
  element.textContent = said.text;
  element.lang = said.locale;
  element.dir = said.direction;
}

// How many seats are left now.
let left = Number(form.dataset.left);

async function count() {
  const answer = await fetch(form.dataset.seats).catch(() => null);
  const now = answer?.ok ? (await answer.json()).left : left;
  if (now === left) return;
  left = now;
  const said = await text("sailing.seats-left", { seats: now });
  if (said) show(document.getElementById("seats-left"), said);
}

setInterval(count, Number(form.dataset.every));

// What the seats cost, while they are typed. Of several answers the one to the last question counts.
let asked = 0;

seats.addEventListener("input", async () => {
  const total = document.getElementById("total");
  const question = ++asked;
  const wanted = Number(seats.value);
  if (!Number.isInteger(wanted) || wanted < 1 || wanted > left) {
    total.hidden = true;
    return;
  }
  const said = await text("trip.total", { crowns: wanted * Number(form.dataset.fare) });
  if (said && question === asked) {
    show(total, said);
    total.hidden = false;
  }
});

// What is wrong, before the form is sent. A number of seats that has changed meanwhile is the server's to judge.
function mistakes() {
  const wanted = Number(seats.value);
  return {
    name: name.value.trim() ? null : "basics.form.required",
    seats: !/^\s*\d+\s*$/.test(seats.value)
      ? "basics.form.not-a-number"
      : wanted === 0
        ? "sailing.errors.no-seats"
        : wanted > Number(form.dataset.left)
          ? "sailing.errors.too-many-seats"
          : null,
  };
}

form.addEventListener("submit", (event) => {
  for (const old of form.querySelectorAll(".error")) old.remove();
  for (const [field, key] of Object.entries(mistakes())) {
    if (!key) continue;
    event.preventDefault();
    const said = page.texts[key];
    const error = document.createElement("p");
    error.className = "error";
    error.setAttribute("role", "alert");
    show(error, typeof said === "string" ? { text: said, locale: page.locale, direction: page.direction } : said);
    form.elements[field].closest("label").after(error);
  }
});

// A change of language keeps what is typed.
const typed = `typed ${form.dataset.sailing}`;

for (const link of document.querySelectorAll(".languages a")) {
  link.addEventListener("click", () => {
    sessionStorage.setItem(typed, JSON.stringify([name.value, seats.value]));
  });
}

const kept = sessionStorage.getItem(typed);
if (kept) {
  sessionStorage.removeItem(typed);
  [name.value, seats.value] = JSON.parse(kept);
  seats.dispatchEvent(new Event("input"));
}

document.documentElement.dataset.awake = "true";
