/** Parts of the house that are fetched when they are first shown, or before, when there is nothing else to do. */
import { Alert, Button, LinearProgress } from "@mui/material";
import { Component, lazy, Suspense, type ComponentType, type FunctionComponent, type ReactNode } from "react";
import { common } from "../texts/common";
import { ui as say } from "../texts/ui";

/** How long the first place has for itself before others are fetched. */
const AFTER_MS = 1500;

export function soon<Props extends object>(
  fetch: () => Promise<ComponentType<Props>>,
  after = AFTER_MS,
): FunctionComponent<Props> {
  let asked: Promise<{ default: ComponentType<Props> }> | null = null;
  // what could not be fetched before it was wanted is asked for again
  const ask = () =>
    (asked ??= fetch().then(
      (part) => ({ default: part }),
      (why: unknown) => {
        asked = null;
        throw why;
      },
    ));
  window.setTimeout(() => void ask().catch(() => undefined), after);
  const Part = lazy(ask) as unknown as ComponentType<Props>;
  return function Soon(props: Props) {
    return (
      <Missing>
        <Suspense fallback={<LinearProgress aria-label={common.loadingLabel} />}>
          <Part {...props} />
        </Suspense>
      </Missing>
    );
  };
}

/** What is said where a part cannot be fetched: the server does not answer, or is of another version by now. */
class Missing extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError = () => ({ failed: true });

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <Alert
        severity="error"
        sx={{ m: 3, alignSelf: "flex-start" }}
        action={<Button onClick={() => window.location.reload()}>{say.loadItAgain}</Button>}
      >
        {say.thisPartCouldNotBe}
      </Alert>
    );
  }
}
