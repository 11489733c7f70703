/** A place whose part is gone shows nothing; preflight says so. */
export default function PartView() {
  return null;
}
