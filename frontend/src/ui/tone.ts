/** A short soft tone, for those who want to hear that an answer was taken. */
const SECONDS = 0.12;
const LOUD = 0.06;

export function tone(right: boolean): void {
  const room = new AudioContext();
  const voice = room.createOscillator();
  const gain = room.createGain();
  voice.frequency.value = right ? 660 : 330;
  gain.gain.setValueAtTime(LOUD, room.currentTime);
  gain.gain.exponentialRampToValueAtTime(0.001, room.currentTime + SECONDS);
  voice.connect(gain).connect(room.destination);
  voice.start();
  voice.stop(room.currentTime + SECONDS);
  voice.onended = () => void room.close();
}
