export default function PersonSettings() {
  return (
    <p className="sentence mt-1">
      A name or mail address. A phone remembers who was written last, and formulas know it as <code>person()</code>.
    </p>
  );
}
