export default function Sentence() {
  return <>Go back to the screen before</>;
}
