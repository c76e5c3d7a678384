/** Whether this browser can speak. */
export const canSpeak = () => typeof speechSynthesis !== "undefined";

/** Says something in place of what was being said, where the browser has a voice. */
export function say(words: string) {
  if (!canSpeak()) return;
  speechSynthesis.cancel();
  const utterance = new SpeechSynthesisUtterance(words);
  utterance.lang = "en";
  speechSynthesis.speak(utterance);
}
