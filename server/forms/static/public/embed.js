// Puts a form of Yalla's into this page, or shows it as a pop-up:
//   <script src=".../embed.js" data-form="KEY" async></script>
//   <script src=".../embed.js" data-form="KEY" data-show="pop-up" async></script>
// It lives in a shadow tree, so that neither the page's styles nor its own reach the other.
"use strict";
(() => {
  const script = document.currentScript;
  const key = script.dataset.form;
  const base = new URL(script.src).origin;
  const path = `${base}/f/${encodeURIComponent(key)}`;
  const asPopUp = script.dataset.show === "pop-up";

  const host = document.createElement("div");
  host.dataset.yalla = key;
  if (asPopUp) document.body.append(host);
  else script.after(host);
  const root = host.attachShadow({ mode: "open" });
  const sheet = document.createElement("link");
  sheet.rel = "stylesheet";
  sheet.href = `${base}/static/public/page.css`;
  const place = document.createElement("div");
  place.className = "yalla";
  root.append(sheet);
  let words = {};

  fetch(`${path}/part${location.search}`, { headers: { Accept: "application/json" } })
    .then((answer) => (answer.ok ? answer.json() : Promise.reject(new Error(answer.status))))
    .then((part) => {
      words = part.words;
      place.lang = part.language;
      place.dir = part.direction;
      paint(part.style);
      fill(part.html);
      if (asPopUp) popUp(part.pop_up);
      else root.append(place);
    })
    .catch(() => host.remove());

  function paint(style) {
    if (!style) return;
    const set = (name, value) => host.style.setProperty(name, value);
    host.style.colorScheme = "light";
    set("--sheet", style.paper);
    set("--paper", style.paper);
    set("--ink", style.ink);
    set("--quiet", `color-mix(in srgb, ${style.ink} 78%, ${style.paper})`);
    set("--rule", `color-mix(in srgb, ${style.ink} 25%, ${style.paper})`);
    set("--act", style.accent);
    set("--on-act", style.on_accent);
    set("--corners", `${style.corners}px`);
    set("--font", `var(--font-${style.font})`);
  }

  function fill(html) {
    const kept = place.querySelector(".way-out");
    // The server wrote and escaped it; it holds no script.
    place.innerHTML = html;
    if (kept) place.prepend(kept);
    const form = place.querySelector("form");
    if (!form) return;
    const set = (name, value) => {
      const box = form.elements.namedItem(name);
      if (box && !box.value) box.value = value;
    };
    set("_page", location.href);
    set("_title", document.title);
    set("_from", document.referrer);
    set("_zone", Intl.DateTimeFormat().resolvedOptions().timeZone);
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      void send(form);
    });
    // A link to a box inside a shadow tree does not find it by itself.
    for (const link of place.querySelectorAll(".summary a")) {
      link.addEventListener("click", (event) => {
        event.preventDefault();
        root.getElementById(link.hash.slice(1))?.focus();
      });
    }
  }

  async function send(form) {
    const button = form.querySelector("button[type=submit]");
    button.disabled = true;
    try {
      const answer = await fetch(path + location.search, {
        method: "POST",
        headers: { Accept: "application/json" },
        body: new URLSearchParams(new FormData(form)),
      });
      const said = await answer.json();
      if (said.next) location.assign(said.next);
      else if (said.html) {
        if (answer.ok) remember(3650);
        fill(said.html);
        (place.querySelector("[aria-invalid]") ?? place.querySelector(".thanks"))?.focus();
      } else throw Object.assign(new Error(said.title), { told: Boolean(said.title) });
    } catch (error) {
      button.disabled = false;
      let said = place.querySelector(".not-sent");
      if (!said) {
        said = document.createElement("p");
        said.className = "wrong not-sent";
        said.setAttribute("role", "alert");
        form.append(said);
      }
      said.textContent = error.told ? error.message : words.not_sent;
    }
  }

  // When it was closed or sent, so that it does not come back too soon.
  function remember(days) {
    try {
      const before = Number(localStorage.getItem(`yalla-${key}`));
      const until = Math.max(before, Date.now() + days * 86_400_000);
      localStorage.setItem(`yalla-${key}`, String(until));
    } catch {
      // Without storage it may come back; that is all.
    }
  }

  function isToRest() {
    try {
      return Number(localStorage.getItem(`yalla-${key}`)) > Date.now();
    } catch {
      return false;
    }
  }

  function popUp(settings) {
    const dialog = document.createElement("dialog");
    dialog.setAttribute("aria-label", place.querySelector("h1")?.textContent ?? words.form);
    const out = document.createElement("div");
    out.className = "way-out";
    const close = document.createElement("button");
    close.type = "button";
    close.className = "plain";
    close.textContent = words.close;
    out.append(close);
    place.prepend(out);
    // What is focused first is the form as a whole, neither its way out nor a keyboard.
    place.tabIndex = -1;
    place.autofocus = true;
    dialog.append(place);
    root.append(dialog);
    close.addEventListener("click", () => dialog.close());
    dialog.addEventListener("click", (event) => {
      if (event.target === dialog) dialog.close();
    });
    dialog.addEventListener("close", () => remember(settings.not_again));
    const open = () => {
      if (!dialog.open) dialog.showModal();
    };
    if (settings.opens === "button") {
      const button = document.createElement("button");
      button.type = "button";
      button.textContent = settings.button;
      button.addEventListener("click", open);
      script.after(host);
      root.append(button);
      return;
    }
    if (isToRest()) return;
    let shown = false;
    const once = () => {
      if (shown) return;
      shown = true;
      open();
    };
    if (settings.opens === "seconds") setTimeout(once, settings.after * 1000);
    if (settings.opens === "scroll") {
      const look = () => {
        const height = document.documentElement.scrollHeight - innerHeight;
        if (height > 0 && (scrollY / height) * 100 >= settings.after) once();
      };
      addEventListener("scroll", look, { passive: true });
    }
    if (settings.opens === "leaving") {
      document.documentElement.addEventListener("mouseleave", (event) => {
        if (event.clientY <= 0) once();
      });
      // A touch screen has no pointer that leaves; there it is going back to another window.
      document.addEventListener("visibilitychange", () => {
        if (document.visibilityState === "visible") once();
      });
    }
  }
})();
