/** Where a view or a part of it fails, it says so and offers a way on; the rest goes on, what was stored is untouched. */
import { Component, type ReactNode } from "react";
import { Push } from "./Push";

export class ErrorBoundary extends Component<
  { children: ReactNode; at: string; part?: string },
  { why: string | null }
> {
  override state = { why: null as string | null };

  static getDerivedStateFromError(error: unknown) {
    return { why: error instanceof Error ? error.message : String(error) };
  }

  override componentDidUpdate(before: { at: string }) {
    if (before.at !== this.props.at && this.state.why !== null) this.setState({ why: null });
  }

  override render() {
    if (this.state.why === null) return this.props.children;
    if (this.props.part)
      return (
        <div className="m-2 space-y-2 rounded border border-ink bg-paper p-3 text-sm" role="alert">
          <p>
            <strong>{this.props.part} could not be shown.</strong> The plan is stored and untouched; the rest
            of the page goes on.
          </p>
          <p className="text-ink-2">What went wrong: {this.state.why}</p>
          <Push onClick={() => this.setState({ why: null })}>Try again</Push>
        </div>
      );
    return (
      <main className="space-y-3 p-10" role="alert">
        <h1 className="text-xl font-semibold">This page could not be drawn</h1>
        <p>Your builds are stored and untouched. Load the page again, or go back to the builds.</p>
        <p className="text-sm text-ink-2">What went wrong: {this.state.why}</p>
        <p className="flex gap-2">
          <Push data-strong onClick={() => location.reload()}>
            Load it again
          </Push>
          <a className="push" href="/">
            To the builds
          </a>
        </p>
      </main>
    );
  }
}
