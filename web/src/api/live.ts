import * as signalR from '@microsoft/signalr'
import { MessagePackHubProtocol } from '@microsoft/signalr-protocol-msgpack'
import type { FormDraft, FormInput, HoleView, PreviewMessage } from './forms'

export interface CurveMessage {
  kind: string
  numbers: number[]
  id: string
  freedoms: number
  construction: boolean
  /** Empty for what would be drawn, gone for what would vanish, guide for what only explains. */
  role?: string
}
export interface WayMessage {
  name: string
  label: string
}
/** A way out of a refusal, with the sketch as it would be. */
export interface WayOutMessage {
  words: string
  command: string
  preview: CurveMessage[]
}
/** A motion that is left: dx dy of each point, dr 0 of each circle, dx dy of each place along ellipses and splines. */
export interface MotionMessage {
  words: string
  moves: Record<string, number[]>
  paths: Record<string, number[]>
}
/** A rule that would take freedoms: a constraint or a dimension, as JSON. */
export interface ProposalMessage {
  words: string
  tie: string | null
  size: string | null
  of: string[]
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
  snap: { kind: string; at: number[]; entity: string; guides: number[] } | null
  inferred: string[]
  /** What the user should know of what would be done or is done. */
  note: string | null
  fields: FieldMessage[]
  refusal: RefusalMessage | null
  outs: WayOutMessage[]
  ways: WayMessage[]
  way: string
  solutions: number
  leave: boolean
  picks: string[] | null
  hover: string
  /** What a drag moves: for each entity its place in the sketch of this revision, how many numbers follow, and these. */
  moved: number[] | null
  revision: number
}
export interface OfferMessage {
  id: string
  label: string
  detail: string
  command: string | null
  whyNot: string | null
  touches: string[]
  /** A datum to open on the bench, as JSON. */
  draft: string | null
  /** A form to open on the bench, as JSON. */
  form: string | null
  note: string
}
export interface StepState {
  id: string
  state: 'built' | 'failed' | 'waiting' | 'left'
  message: string
  freedoms: number | null
  plane: number[] | null
  reading: string | null
  points: number[]
  /** How far from its origin a datum is drawn. */
  extent: number
  /** Places along a 3D curve. */
  drawn: number[]
  /** Whether a sketch moved with what it copies from the model. */
  followed: boolean
  /** A reference that is lost, and the closest there are now. */
  lost: string | null
  near: string[]
  holes: HoleView[]
  /** Drawn threads: a place on the axis, its direction, radius, length, pitch. */
  threads: number[][]
  /** How a reading stands to its limits: none, pass, near, fail. */
  verdict: string
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
  /** Whether it is as it was told last, and comes without its geometry. */
  same: boolean
  /** Triangles to measure and to build on, not material. */
  reference: boolean
  /** Of an imported body that brings one. */
  colour: string | null
}
export interface RebuiltMessage {
  revision: number
  steps: StepState[]
  bodies: BodyMessage[]
}
export interface InputMessage {
  kind: 'move' | 'click' | 'dragStart' | 'drag' | 'dragEnd' | 'typed' | 'accept' | 'cancel' | 'way' | 'next'
  x: number
  y: number
  reach: number
  suppress: boolean
  extend: boolean
  construction: boolean
  field?: string
  text?: string
}

/** The live link to one part. Reconnects by itself and opens the part again. */
export class LiveLink {
  private readonly hub: signalR.HubConnection
  /** Under this name the server keeps what was begun while the link is away. */
  private readonly desk = globalThis.crypto?.randomUUID?.() ?? `${Date.now()}-${Math.random()}`
  private inputs = 0
  private closed = false
  private away = false
  private beat: ReturnType<typeof setInterval> | undefined
  /** Those that wait for the link to come back. */
  private waiting: (() => void)[] = []

  constructor(
    private readonly part: string,
    hears: {
      changed(revision: number): void
      rebuilt(message: RebuiltMessage): void
      building(step: string | null): void
      share(share: number): void
      connected(on: boolean): void
      ended(): void
    },
  ) {
    this.hub = new signalR.HubConnectionBuilder()
      .withUrl('/live')
      .withHubProtocol(new MessagePackHubProtocol())
      .withAutomaticReconnect({
        nextRetryDelayInMilliseconds: (c) => {
          // Signed out meanwhile: no more tries.
          if ((c.retryReason as { statusCode?: number }).statusCode === 401) return null
          return Math.min(5000, 300 * (c.previousRetryCount + 1))
        },
      })
      .configureLogging(signalR.LogLevel.None)
      .build()
    this.hub.serverTimeoutInMilliseconds = 10_000
    this.hub.keepAliveIntervalInMilliseconds = 3_000
    this.hub.on('Changed', hears.changed)
    this.hub.on('Rebuilt', hears.rebuilt)
    this.hub.on('Building', hears.building)
    this.hub.on('Share', hears.share)
    this.tell = (on) => {
      if (on === !this.away) return
      this.away = !on
      hears.connected(on)
    }
    // The server ended it, or it is of no use to try again.
    this.hub.onclose(() => {
      if (!this.closed) hears.ended()
    })
    this.hub.onreconnecting(() => this.tell(false))
    this.hub.onreconnected(async () => {
      await this.hub.invoke('Resume', this.part, this.desk).catch(() => undefined)
      this.tell(true)
      this.waiting.splice(0).forEach((go) => go())
      hears.changed(-1)
    })
  }

  private readonly tell: (on: boolean) => void

  async open(): Promise<void> {
    await this.hub.start()
    if (this.closed) return this.hub.stop()
    await this.hub.invoke('Resume', this.part, this.desk)
    this.beat = setInterval(() => void this.listen(), 800)
  }

  /** A link can be dead long before the browser says so: one that does not answer at once is told as away. */
  private async listen(): Promise<void> {
    if (this.hub.state !== signalR.HubConnectionState.Connected) return
    const late = setTimeout(() => this.tell(false), 1200)
    await this.hub.invoke('Ping').then(
      () => this.tell(true),
      () => undefined,
    )
    clearTimeout(late)
  }

  /** Does something over the link, however long that is away: it waits, and is done once more where the answer was lost. */
  private async surely<T>(act: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await act()
      } catch (e) {
        if (this.closed || this.hub.state === signalR.HubConnectionState.Connected) throw e
        await new Promise<void>((go) => this.waiting.push(go))
      }
    }
  }

  /** Asks for the model with all of its geometry. */
  async whole(): Promise<void> {
    await this.hub.invoke('Whole').catch(() => undefined)
  }

  close(): void {
    this.closed = true
    clearInterval(this.beat)
    this.waiting.splice(0).forEach((go) => go())
    void this.hub.stop()
  }

  startTool(step: string, tool: string, picks: string[]): Promise<AnswerMessage> {
    return this.surely(() => this.hub.invoke('StartTool', step, tool, picks))
  }

  /** What could be done instead of a command that was refused. */
  waysOut(command: string): Promise<WayOutMessage[]> {
    return this.hub.invoke('WaysOut', command)
  }

  /** How a sketch can still move. */
  motions(step: string): Promise<MotionMessage[]> {
    return this.hub.invoke('Motions', step)
  }

  /** What would set the rest of a sketch. */
  finish(step: string): Promise<ProposalMessage[]> {
    return this.hub.invoke('Finish', step)
  }

  /** The curves of a sketch as a command would leave them; null where it would be refused. */
  preview(step: string, command: string): Promise<CurveMessage[] | null> {
    return this.hub.invoke('Preview', step, command)
  }

  copy(step: string, picks: string[]): Promise<string | null> {
    return this.hub.invoke('Copy', step, picks)
  }

  /** The command that pastes a piece at a place. */
  paste(step: string, piece: string, x: number, y: number): Promise<string | null> {
    return this.hub.invoke('Paste', step, piece, x, y)
  }

  input(message: InputMessage): Promise<AnswerMessage> {
    const numbered = { ...message, number: ++this.inputs }
    return this.surely(() => this.hub.invoke('Input', numbered))
  }

  /** A new form with the picks; answers are JSON. */
  beginForm(kind: string, picks: string[]): Promise<string | null> {
    return this.hub.invoke('BeginForm', kind, picks)
  }

  editForm(step: string): Promise<string | null> {
    return this.hub.invoke('EditForm', step)
  }

  form(draft: FormDraft, input: FormInput): Promise<string | null> {
    return this.hub.invoke('Form', JSON.stringify(draft), JSON.stringify(input))
  }

  /** The part as a form would make it, or as it stands before the form. */
  previewForm(draft: FormDraft, before = false): Promise<PreviewMessage | null> {
    return this.hub.invoke('PreviewForm', JSON.stringify(draft), before)
  }

  /** Does one thing to a draft of the measuring tool; all of it JSON. */
  gauge(draft: string, input: string | null): Promise<string | null> {
    return this.hub.invoke('Gauge', draft, input)
  }

  /** The stretches of material along something straight, as JSON. */
  probe(reference: string): Promise<string> {
    return this.hub.invoke('Probe', reference)
  }

  /** The plane of something flat: origin, x, y; null for what is not. */
  planeOf(reference: string): Promise<number[] | null> {
    return this.hub.invoke('PlaneOf', reference)
  }

  /** What a draft of a datum determines; drafts and answers are JSON. */
  datum(draft: string): Promise<string | null> {
    return this.hub.invoke('Datum', draft)
  }

  dragDatum(draft: string, field: string, ray: number[], reach: number): Promise<string | null> {
    return this.hub.invoke('DragDatum', draft, field, ray, reach)
  }

  draft(step: string): Promise<string | null> {
    return this.hub.invoke('Draft', step)
  }

  curve(draft: string): Promise<string | null> {
    return this.hub.invoke('Curve', draft)
  }

  pointAt(reference: string, ray: number[]): Promise<string> {
    return this.hub.invoke('PointAt', reference, ray)
  }

  quickPlane(picks: string[], towards: number[]): Promise<string> {
    return this.hub.invoke('QuickPlane', picks, towards)
  }

  /** The command that takes something of the model into a sketch, or the refusal, as JSON. */
  take(step: string, how: string, reference: string): Promise<string> {
    return this.hub.invoke('Take', step, how, reference)
  }

  apart(
    step: string,
    reference: string,
    x: number,
    y: number,
    ray: number[],
    point: string | null,
  ): Promise<string | null> {
    return this.hub.invoke('Apart', step, reference, x, y, ray, point)
  }

  viewFrame(view: number[]): Promise<string | null> {
    return this.hub.invoke('ViewFrame', view)
  }

  edgeOn(step: string, towards: number[]): Promise<string | null> {
    return this.hub.invoke('EdgeOn', step, towards)
  }

  offers(step: string | null, picks: string[]): Promise<OfferMessage[]> {
    return this.hub.invoke('Offers', step, picks)
  }
}
