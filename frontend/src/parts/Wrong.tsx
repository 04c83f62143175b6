/** What is wrong with what was just typed or asked for, beside it; nothing where nothing is. */
export function Wrong({ children }: { children: string | null | undefined }) {
  if (!children) return null;
  return (
    <span role="alert" className="text-accent block text-small font-semibold">
      {children}
    </span>
  );
}
