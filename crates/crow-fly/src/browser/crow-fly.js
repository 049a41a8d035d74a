// The texts of the application for scripts. The server that made the page makes them, in the language of the page.
//
//   import { texts } from "/texts/crow-fly.js";
//
//   const t = texts();
//   await t.text("sailing.seats-left", { seats: 3 });
//   await t.show(element, "sailing.seats-left", { seats: 3 });
//   await t.change("pl");

/** The limits of one request: texts, and bytes of what it asks. */
const MOST = 32, LONGEST = 3500;
/** How many texts are kept, and for how long: what is relative to the time changes with it. */
const KEPT = 500, LIFETIME = 60_000;
/** The attributes that a text may be shown in: `data-text-title="section.key"`. */
const ATTRIBUTES = ["alt", "aria-description", "aria-label", "aria-roledescription", "aria-valuetext", "label", "placeholder", "title"];
/** What has no content, and what never comes from a text. */
const VOID = /^(br|hr|img|wbr)$/, REFUSED = /^(embed|iframe|object|script|style|template)$/;
const SVG = "http://www.w3.org/2000/svg";

const all = new Map();

/** The texts of the page, by the `id` of what it hands over. The same object each time. */
export function texts(id = "texts") {
  if (!all.has(id)) {
    const block = document.getElementById(id);
    if (!block) throw new Error(`the page hands nothing over: it has no element with the id "${id}"`);
    all.set(id, new Texts(JSON.parse(block.textContent)));
  }
  return all.get(id);
}

/** A question as the server reads it: one for the same key and arguments, in whatever order these are. */
const asked = (key, given) => {
  const names = Object.keys(given ?? {}).filter((name) => given[name] !== undefined).sort();
  const whole = (_, value) => (typeof value === "bigint" ? { number: String(value) } : value);
  return JSON.stringify(names.length ? [key, Object.fromEntries(names.map((name) => [name, given[name]]))] : [key], whole);
};

class Texts {
  #page;
  #kept = new Map();
  #waiting = [];
  #turn = 0;
  #reported = false;

  constructor(page) {
    this.#page = page;
    /** The language of the page now, and which way it runs. */
    this.locale = page.locale;
    this.direction = page.direction;
    for (const [key, text] of Object.entries(page.texts)) {
      const said = typeof text === "string" ? { text } : text;
      if (said.arguments !== null) {
        const own = { locale: page.locale, direction: page.direction, ...said };
        this.#kept.set(page.locale + asked(key, said.arguments), { said: Promise.resolve(own), until: Infinity });
      }
    }
    addEventListener("popstate", () => {
      const there = isHere(this.#language) ? undefined : this.languages.find(isHere);
      // Where the texts cannot be had, the page can.
      if (there) this.#say(there).catch(() => location.reload());
    });
  }

  /** The languages to choose from: `locale`, `direction`, `name`, `address`, `page`, `home`, `current`. */
  get languages() {
    return this.#page.languages;
  }

  get #language() {
    return this.languages.find(({ locale }) => locale === this.locale);
  }

  /** The text of a message. Texts that are asked for together come in one answer. */
  async text(key, given) {
    return (await this.#ask(this.locale, asked(key, given))).text;
  }

  /** Shows a message in an element; whether it did: what is asked for later goes before what comes late. */
  async show(element, key, given) {
    const question = asked(key, given);
    check(element, key);
    mark(element, question);
    const { locale } = this;
    const said = await this.#ask(locale, question);
    const is = locale === this.locale && question === marked(element);
    if (is) put(element, said);
    return is;
  }

  /** The address of a page of the application, by its bare path, in the language of the page now. */
  path(bare) {
    return at(this.#language, bare);
  }

  /** Says what is marked on the page in another language, and remembers the choice. Where that fails, nothing changes. */
  async change(locale) {
    const language = this.languages.find((one) => one.locale === locale);
    if (!language) throw new Error(`the page has no language "${locale}", only ${this.languages.map((one) => one.locale).join(", ")}`);
    if (!language.page) return location.assign(language.address);
    return this.#say(language, async () => {
      const choice = await fetch(language.address, { redirect: "manual", cache: "no-store" });
      if (choice.type !== "opaqueredirect" && !choice.ok) throw new Error(`${language.address} answers ${choice.status}: the choice is not remembered`);
      return () => isHere(language) || history.pushState(null, "", language.page + location.hash);
    });
  }

  /** Changes the language; whether it did: of several changes the last one counts. */
  async #say(language, remember) {
    const turn = ++this.#turn;
    const answers = new Map();
    const ask = async () => {
      for (let open; (open = places().filter(({ question }) => !answers.has(question))).length; ) {
        const some = new Set(open.map(({ question }) => question));
        await Promise.all([...some].map(async (one) => answers.set(one, await this.#ask(language.locale, one))));
      }
    };
    await ask();
    if (turn !== this.#turn) return false;
    const lead = await remember?.();
    // What was shown meanwhile.
    await ask();
    if (turn !== this.#turn) return false;
    lead?.();
    if (this.#page.development && !this.#reported) report(this.locale);
    this.#reported = true;
    const { locale, direction } = language, root = document.documentElement;
    [this.locale, this.direction] = [root.lang, root.dir] = [locale, direction];
    for (const one of this.languages) one.current = one === language;
    for (const { question, show } of places()) show(answers.get(question));
    for (const link of document.querySelectorAll("[data-path]")) {
      link.setAttribute(link.localName === "form" ? "action" : "href", at(language, link.dataset.path));
    }
    document.dispatchEvent(new CustomEvent("localechange", { detail: { locale, direction } }));
    return true;
  }

  #ask(locale, question) {
    const name = locale + question, now = Date.now();
    let kept = this.#kept.get(name);
    if (!kept || kept.until < now) {
      const said = new Promise((resolve, reject) => {
        if (!this.#waiting.length) queueMicrotask(() => this.#send(this.#waiting.splice(0)));
        this.#waiting.push({ locale, question, resolve, reject });
      });
      kept = { said, until: now + LIFETIME };
      this.#kept.set(name, kept);
      said.catch(() => this.#kept.get(name) === kept && this.#kept.delete(name));
      // Those of the page itself stay.
      for (const [old, { until }] of this.#kept) {
        if (this.#kept.size <= KEPT) break;
        if (until < Infinity) this.#kept.delete(old);
      }
    }
    return kept.said;
  }

  /** Sends what waits, in as few requests as the server takes. */
  #send(waiting) {
    for (let [some, length] = [[], 0]; waiting.length || some.length; ) {
      const next = waiting[0], more = next ? `${new URLSearchParams({ "": next.question })}`.length + 3 : 0;
      if (next && (!some.length || (next.locale === some[0].locale && some.length < MOST && length + more < LONGEST))) {
        some.push(waiting.shift());
        length += more;
      } else {
        this.#fetch(some);
        [some, length] = [[], 0];
      }
    }
  }

  async #fetch(some) {
    try {
      const { textsAddress, ownTimeZone, timeZone, formats, locale } = this.#page;
      if (!textsAddress) throw new Error("no section is public: name some in `sections` of `[browser]`");
      const query = new URLSearchParams({ texts: `[${some.map(({ question }) => question)}]` });
      if (ownTimeZone) query.set("time-zone", timeZone);
      // The visitor's own formats are of the language of the page.
      if (formats !== locale && some[0].locale === locale) query.set("formats", formats);
      const address = `${textsAddress.replace(/[^/]*$/, some[0].locale)}?${query}`;
      const answer = await fetch(address);
      if (!answer.ok) throw new Error(`${address} answers ${answer.status}`);
      const { texts } = await answer.json();
      some.forEach(({ question, locale, resolve, reject }, index) => {
        const said = texts[index];
        if (said.errors) reject(new Error(`no text for ${question} in ${locale}: ${said.errors.join("; ") || "it is not there, or not public"}`));
        else resolve(said);
      });
    } catch (error) {
      for (const { reject } of some) reject(error);
    }
  }
}

const isHere = ({ page }) => page && new URL(page, location).pathname === location.pathname;

/** The address of a page, by its bare path, below the home page of a language. */
const at = ({ home }, bare) => home.replace(/\/$/, "") + bare.replace(/^\/(?=$|\?)/, home.endsWith("/") ? "/" : "");

/** What an element shows, as a question; nothing where it is not marked. */
const marked = ({ dataset }, key = dataset.text) => key && asked(key, JSON.parse(dataset.arguments ?? "{}"));

function check(element, key) {
  if (element.querySelector("input, select, textarea, [data-text]")) {
    throw new Error(`"${key}" is shown in an element that holds fields or other texts: give it one of its own`);
  }
}

const mark = ({ dataset }, question) => {
  const [key, given] = JSON.parse(question);
  dataset.text = key;
  if (given) dataset.arguments = JSON.stringify(given);
  else delete dataset.arguments;
};

/** All places of the page that show a text: elements, and attributes of them. */
function places() {
  const found = [...document.querySelectorAll("[data-text]")].map((element) => {
    check(element, element.dataset.text);
    return { question: marked(element), show: (said) => put(element, said) };
  });
  for (const name of ATTRIBUTES) {
    for (const element of document.querySelectorAll(`[data-text-${name}]`)) {
      const question = marked(element, element.getAttribute(`data-text-${name}`));
      found.push({ question, show: (said) => element.setAttribute(name, said.text) });
    }
  }
  return found;
}

/** Puts a text into an element: nodes, never markup. */
function put(element, { text, html, locale, direction }) {
  element.replaceChildren(html?.includes("<") && !/^(title|option|textarea)$/.test(element.localName) ? nodes(html) : text);
  [element.lang, element.dir] = [locale, direction];
}

const letters = { amp: "&", lt: "<", gt: ">", quot: '"', nbsp: "\u00a0" };
const plain = (text) => text.replace(/&(?:#(\d+)|(\w+));/g, (whole, code, name) => (code ? String.fromCodePoint(code) : (letters[name] ?? whole)));

/** The nodes of what the server has made: its texts as texts, its elements as elements. */
function nodes(html) {
  const open = [["", document.createDocumentFragment()]];
  for (const [piece, close, name, inside] of html.matchAll(/<(\/?)([a-z][\w:-]*)((?:"[^"]*"|'[^']*'|[^"'>])*)>|[^<]+|</gi)) {
    const parent = open.at(-1)[1];
    if (close) {
      const last = open.findLastIndex(([one]) => one === name);
      if (last > 0) open.length = last;
    } else if (REFUSED.test(name)) {
      open.push([name, document.createDocumentFragment()]);
    } else if (name) {
      const space = name === "svg" ? SVG : (parent.namespaceURI ?? document.documentElement.namespaceURI);
      const element = document.createElementNS(space, name);
      for (const [, attribute, double, single, bare] of inside.matchAll(/([^\s=\/]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s]+)))?/g)) {
        if (!/^(on|style$|srcdoc$)/i.test(attribute)) element.setAttribute(attribute, plain(double ?? single ?? bare ?? ""));
      }
      parent.append(element);
      if (!VOID.test(name) && !(space === SVG && inside.endsWith("/"))) open.push([name, element]);
    } else parent.append(plain(piece));
  }
  return open[0][1];
}

/** In development: which texts stay in the old language. */
function report(locale) {
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  const left = [];
  for (let node; (node = walk.nextNode()); ) {
    const stays = "[data-text], [translate=no], script, style, noscript, textarea, code, body [lang]";
    if (/\p{L}{2}/u.test(node.data) && !node.parentElement.closest(stays)) left.push(node.data.trim());
  }
  if (left.length) console.warn(`not marked with data-text, and still in "${locale}":`, left);
}
