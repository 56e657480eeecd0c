import { Component, type ReactNode } from "react";
import { Notice } from "./Notice";

/** Keeps a fault in one page from blanking the whole console, and says what to do. */
export class Boundary extends Component<{ children: ReactNode }, { error: Error | null }> {
  state: { error: Error | null } = { error: null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  render() {
    if (!this.state.error) return this.props.children;
    return (
      <Notice title="This page failed" error={this.state.error} retry={() => this.setState({ error: null })}>
        Nothing in the book was changed. If it happens again, start afresh from the question line.
      </Notice>
    );
  }
}
