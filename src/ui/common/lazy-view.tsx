"use client";

import { useEffect, useState, type ComponentType, type ReactNode } from "react";
import { ErrorBoundary } from "react-error-boundary";
import styles from "./lazy-view.module.scss";

/**
 * A view that is fetched when it is looked at first. One that can't be had costs its own place only, says so there, and can be
 * asked for again.
 */
export function lazyView<Props extends object>(
  load: () => Promise<{ default: ComponentType<Props> }>,
): ComponentType<Props> {
  let fetched: ComponentType<Props> | undefined;
  return function LazyView(props: Props) {
    const [View, setView] = useState(() => fetched);
    const [failed, setFailed] = useState(false);
    useEffect(() => {
      if (View || failed) return;
      let left = false;
      load().then(
        (module) => {
          fetched = module.default;
          if (!left) setView(() => module.default);
        },
        () => !left && setFailed(true),
      );
      return () => void (left = true);
    }, [View, failed]);
    if (View) return <View {...props} />;
    return failed ? (
      <Missing description="This part of the app could not be loaded." onRetry={() => setFailed(false)} />
    ) : null;
  };
}

/** Keeps a failure while drawing to its own place. */
export function ViewBoundary({ children }: { readonly children: ReactNode }) {
  return (
    <ErrorBoundary
      fallbackRender={({ resetErrorBoundary }) => (
        <Missing description="This view could not be drawn. The beat is as it was." onRetry={resetErrorBoundary} />
      )}
    >
      {children}
    </ErrorBoundary>
  );
}

function Missing({ description, onRetry }: { readonly description: string; onRetry(): void }) {
  return (
    <p role="alert" className={styles.notLoaded}>
      {description}{" "}
      <button type="button" className="btn btn-sm" onClick={onRetry}>
        Try again
      </button>
    </p>
  );
}
