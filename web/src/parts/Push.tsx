/** The usual button. */
import type { ComponentProps } from "react";

export function Push({ className, ...rest }: ComponentProps<"button">) {
  return <button type="button" {...rest} className={className ? `push ${className}` : "push"} />;
}
