import { useEffect, useState } from "react";

/** A text that follows another once it has stood still for some milliseconds. */
export function useSettled(text: string, pause: number): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), pause);
    return () => clearTimeout(timer);
  }, [text, pause]);
  return settled;
}
