import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";

interface LetterFrameProps {
  title: string;
  /** The page with the rules for what it may load; it is loaded once. */
  src: string;
  /** The letter as it is now; none while it is on its way. */
  html: string | undefined;
  dark: boolean;
  width: number | string;
  height: object | number | string;
}

/** A letter in a page of its own. What changes is put into the page that is there: it neither blinks nor loses
 * its place. */
export function LetterFrame({ title, src, html, dark, width, height }: LetterFrameProps) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [first] = useState(() => src);
  const [loaded, setLoaded] = useState(false);
  useEffect(() => {
    const page = frame.current?.contentDocument;
    // What is parsed there may hold what a letter may, such as styles; not so on the screen around it.
    const view = frame.current?.contentWindow as (Window & typeof globalThis) | null | undefined;
    if (!loaded || html === undefined || !frame.current || !view) return;
    if (!page?.URL.endsWith(first)) {
      // A link in it was followed.
      frame.current.src = first;
      setLoaded(false);
      return;
    }
    const { scrollX, scrollY } = view;
    const next = new view.DOMParser().parseFromString(html, "text/html").documentElement;
    page.replaceChild(page.adoptNode(next), page.documentElement);
    view.scrollTo(scrollX, scrollY);
  }, [loaded, html, first]);
  return (
    <Box
      component="iframe"
      ref={frame}
      title={title}
      src={first}
      onLoad={() => setLoaded(true)}
      sx={{
        display: "block",
        width,
        maxWidth: "100%",
        height,
        border: 1,
        borderColor: "divider",
        bgcolor: "#fff",
        colorScheme: dark ? "dark" : "light",
      }}
    />
  );
}
