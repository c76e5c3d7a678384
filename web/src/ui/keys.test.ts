import { afterEach, expect, it } from "vitest";
import { isTyping } from "./keys";

afterEach(() => document.body.replaceChildren());

function pressed(html: string, key: string, held: KeyboardEventInit = {}): boolean {
  document.body.innerHTML = html;
  const event = new KeyboardEvent("keydown", { key, bubbles: true, ...held });
  let typing = false;
  document.addEventListener("keydown", (heard) => (typing = isTyping(heard)), { once: true });
  (document.querySelector("[data-here]") ?? document.body).dispatchEvent(event);
  return typing;
}

it("leaves single keys to the page unless something is being written", () => {
  expect(pressed("<p data-here></p>", "x")).toBe(false);
  expect(pressed("<input data-here>", "x")).toBe(true);
  expect(pressed("<textarea data-here></textarea>", "x")).toBe(true);
});

it("leaves every key of a dialog to the dialog", () => {
  expect(pressed('<div role="dialog"><p data-here></p></div>', "n")).toBe(true);
});

it("lets a button have its own keys and no others", () => {
  expect(pressed("<button data-here></button>", "Enter")).toBe(true);
  expect(pressed("<button data-here></button>", " ")).toBe(true);
  expect(pressed("<button data-here></button>", "x")).toBe(false);
});

it("never takes what is meant for the browser", () => {
  expect(pressed("<p data-here></p>", "x", { ctrlKey: true })).toBe(true);
  expect(pressed("<p data-here></p>", "x", { metaKey: true })).toBe(true);
});
