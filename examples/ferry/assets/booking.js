// The booking form, made live. What it says comes from the server. Without it the form works all the same.

import { texts } from "/texts/crow-fly.js";

const t = texts();
const form = document.querySelector("form.booking");
const { name, seats } = form.elements;
const total = document.getElementById("total");

// How many seats are left now.
let left = Number(form.dataset.left);

async function count() {
  const now = (await (await fetch(form.dataset.seats)).json()).left;
  if (now !== left) await t.show(document.getElementById("seats-left"), "sailing.seats-left", { seats: now });
  left = now;
}

// What cannot be had now is asked for again.
setInterval(() => count().catch(() => {}), Number(form.dataset.every));

// What is wrong with the number of seats: a key and its arguments.
function mistake() {
  const wanted = Number(seats.value);
  if (!/^\s*\d+\s*$/.test(seats.value)) return ["basics.form.not-a-number"];
  if (wanted === 0) return ["sailing.errors.no-seats"];
  return wanted > left ? ["sailing.errors.too-many-seats", { seats: left }] : null;
}

// What the seats cost, while they are typed.
seats.addEventListener("input", async () => {
  if (mistake()) total.hidden = true;
  else if (await t.show(total, "trip.total", { crowns: Number(seats.value) * Number(form.dataset.fare) })) {
    total.hidden = mistake() !== null;
  }
});

// What is wrong, before the form is sent. The server looks again.
form.addEventListener("submit", (event) => {
  for (const old of form.querySelectorAll(".error")) old.remove();
  for (const [field, wrong] of [[name, name.value.trim() ? null : ["basics.form.required"]], [seats, mistake()]]) {
    if (!wrong) continue;
    event.preventDefault();
    const error = document.createElement("p");
    error.className = "error";
    error.setAttribute("role", "alert");
    field.closest("label").after(error);
    t.show(error, ...wrong);
  }
});
