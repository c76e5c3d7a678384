import { configure } from "@testing-library/react";

// Tests read a British browser, wherever they run.
Object.defineProperty(navigator, "language", { value: "en-GB" });

// A busy machine is no fault of theirs.
configure({ asyncUtilTimeout: 60_000 });
