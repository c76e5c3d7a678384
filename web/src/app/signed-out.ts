// Whether the server said that nobody is signed in any more. What is on screen stays
// there meanwhile, so that nothing typed is lost.

import { createStore } from "zustand";

export const signedOut = createStore<{ out: boolean }>(() => ({ out: false }));
