import * as signalR from '@microsoft/signalr'
import { MessagePackHubProtocol } from '@microsoft/signalr-protocol-msgpack'

export interface CurveMessage {
  kind: string
  numbers: number[]
  id: string
  freedoms: number
  construction: boolean
}
export interface FieldMessage {
  name: string
  label: string
  text: string
  typed: boolean
}
export interface RefusalMessage {
  code: string
  message: string
  where: string | null
  involved: string[]
}
export interface AnswerMessage {
  prompt: string
  preview: CurveMessage[]
  snap: { kind: string; at: number[]; entity: string } | null
  inferred: string[]
  fields: FieldMessage[]
  refusal: RefusalMessage | null
  alternative: string | null
  leave: boolean
  picks: string[] | null
  hover: string
  dragged: CurveMessage[] | null
  revision: number
}
export interface OfferMessage {
  id: string
  label: string
  detail: string
  command: string | null
}
export interface StepState {
  id: string
  state: 'built' | 'failed' | 'waiting' | 'left'
  message: string
  freedoms: number | null
  plane: number[] | null
  reading: string | null
  points: number[]
}
export interface BodyMessage {
  name: string
  key: string
  positions: Uint8Array
  normals: Uint8Array
  triangles: Uint8Array
  faceTriangles: number[]
  edgePoints: Uint8Array
  edgeCounts: number[]
  vertices: number[]
  faces: string[]
  surfaces: string[]
  edges: string[]
  vertexNames: string[]
  volume: number
}
export interface RebuiltMessage {
  revision: number
  steps: StepState[]
  bodies: BodyMessage[]
}
export interface InputMessage {
  kind: 'move' | 'click' | 'dragStart' | 'drag' | 'dragEnd' | 'typed' | 'accept' | 'cancel'
  x: number
  y: number
  reach: number
  suppress: boolean
  extend: boolean
  field?: string
  text?: string
}

/** The live link to one part. Reconnects by itself and opens the part again. */
export class LiveLink {
  private readonly hub: signalR.HubConnection
  private closed = false

  constructor(
    private readonly part: string,
    hears: {
      changed(revision: number): void
      rebuilt(message: RebuiltMessage): void
      connected(on: boolean): void
    },
  ) {
    this.hub = new signalR.HubConnectionBuilder()
      .withUrl('/live')
      .withHubProtocol(new MessagePackHubProtocol())
      .withAutomaticReconnect({
        nextRetryDelayInMilliseconds: (c) => Math.min(5000, 300 * (c.previousRetryCount + 1)),
      })
      .configureLogging(signalR.LogLevel.Error)
      .build()
    this.hub.on('Changed', hears.changed)
    this.hub.on('Rebuilt', hears.rebuilt)
    this.hub.onreconnecting(() => hears.connected(false))
    this.hub.onreconnected(async () => {
      await this.hub.invoke('Open', this.part)
      hears.connected(true)
      hears.changed(-1)
    })
  }

  async open(): Promise<void> {
    await this.hub.start()
    if (this.closed) return this.hub.stop()
    await this.hub.invoke('Open', this.part)
  }

  close(): void {
    this.closed = true
    void this.hub.stop()
  }

  startTool(step: string, tool: string): Promise<AnswerMessage> {
    return this.hub.invoke('StartTool', step, tool)
  }

  input(message: InputMessage): Promise<AnswerMessage> {
    return this.hub.invoke('Input', message)
  }

  offers(step: string | null, picks: string[]): Promise<OfferMessage[]> {
    return this.hub.invoke('Offers', step, picks)
  }
}
