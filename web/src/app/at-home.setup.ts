// Tests read a British browser, wherever they run.
Object.defineProperty(navigator, "language", { value: "en-GB" });

export {};
