import { ChevronDown } from "lucide-react";
import { useEffect, useRef, type ReactNode } from "react";

interface Props {
  name: string;
  title: string;
  testId: string;
  /** Something in it is not as usual. */
  marked: boolean;
  children: ReactNode;
}

/** What is chosen once in a while, behind one button over the land. */
export function ToolMenu({ name, title, testId, marked, children }: Props) {
  const menu = useRef<HTMLDetailsElement>(null);
  const close = () => menu.current?.removeAttribute("open");
  useEffect(() => {
    const onPress = ({ target }: PointerEvent) => {
      if (!menu.current?.contains(target as Node)) close();
    };
    document.addEventListener("pointerdown", onPress);
    return () => document.removeEventListener("pointerdown", onPress);
  }, []);
  return (
    <details
      ref={menu}
      className="dropdown"
      onBlur={({ relatedTarget }) => {
        // With keys one leaves it too. A list that opens takes the focus nowhere.
        if (relatedTarget && !menu.current?.contains(relatedTarget)) close();
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape") close();
      }}
    >
      <summary className="btn btn-xs" title={title} data-testid={testId}>
        {name}
        {marked && <span className="bg-accent size-1.5 rounded-full" aria-label="changed" />}
        <ChevronDown size={12} />
      </summary>
      <div
        className="dropdown-content bg-base-100 border-base-300 z-10 mt-1 flex w-56 flex-col gap-1.5 rounded border p-2 shadow"
        tabIndex={-1}
      >
        {children}
      </div>
    </details>
  );
}
