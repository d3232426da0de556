import { Component } from 'react'
import { WaysBack } from './WaysBack'

interface PanelBoundaryProps {
  readonly name: string
  readonly children: React.ReactNode
}

/** Keeps a mistake in one panel from taking the others with it. */
export class PanelBoundary extends Component<PanelBoundaryProps, { readonly failure: Error | undefined }> {
  override state = { failure: undefined as Error | undefined }

  static getDerivedStateFromError(failure: Error) {
    return { failure }
  }

  override render() {
    const { failure } = this.state
    if (failure === undefined) return this.props.children
    return (
      <div role="alert" className="p-4">
        <p className="finding border-coral">
          {this.props.name} made a mistake: {failure.message}
        </p>
        <WaysBack onAgain={() => this.setState({ failure: undefined })} />
      </div>
    )
  }
}
