import * as signalR from '@microsoft/signalr'
import { MessagePackHubProtocol } from '@microsoft/signalr-protocol-msgpack'
import type { FormDraft, FormInput, PreviewMessage } from './forms'
import { busy } from './busy'
import { unpacked } from './packed'
import type { components } from './schema'

type Schemas = components['schemas']

export type CurveMessage = Schemas['CurveMessage']
export type WayMessage = Schemas['WayMessage']
export type WayOutMessage = Schemas['WayOutMessage']
export type DrivesMessage = Schemas['DrivesMessage']
export type MotionMessage = Schemas['MotionMessage']
export type ProposalMessage = Schemas['ProposalMessage']
export type FieldMessage = Schemas['FieldMessage']
export type RefusalMessage = Schemas['RefusalMessage']
export type AnswerMessage = Schemas['AnswerMessage']
export type OfferMessage = Schemas['OfferMessage']
export type StepState = Schemas['StepStateMessage']
export type BodyMessage = Schemas['BodyMessage']
export type RebuiltMessage = Schemas['RebuiltMessage']
/** The link numbers it. */
export type InputMessage = Omit<Schemas['InputMessage'], 'number' | 'field' | 'text'> &
  Partial<Pick<Schemas['InputMessage'], 'field' | 'text'>>

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
    this.hub.on('Rebuilt', (message: RebuiltMessage) => hears.rebuilt(unpacked(message)))
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

  private ask<T>(method: string, ...of: unknown[]): Promise<T> {
    return busy(this.hub.invoke<T>(method, ...of))
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
    await this.ask('Whole').catch(() => undefined)
  }

  close(): void {
    this.closed = true
    clearInterval(this.beat)
    this.waiting.splice(0).forEach((go) => go())
    void this.hub.stop()
  }

  startTool(step: string, tool: string, picks: string[]): Promise<AnswerMessage> {
    return this.surely(() => this.ask('StartTool', step, tool, picks))
  }

  /** The model of a state that the part was in; null where there is none. */
  at(revision: number): Promise<RebuiltMessage | null> {
    return this.ask<RebuiltMessage | null>('At', revision).then(unpacked)
  }

  /** The model as it would be after a command; null where that is refused. */
  tryCommand(command: string): Promise<RebuiltMessage | null> {
    return this.ask<RebuiltMessage | null>('Try', command).then(unpacked)
  }

  /** What people call the things that references name; of a sketch, its entities and rules. */
  words(step: string | null, references: string[]): Promise<string[]> {
    return this.ask('Words', step, references)
  }

  /** What could be done instead of a command that was refused. */
  waysOut(command: string): Promise<WayOutMessage[]> {
    return this.ask('WaysOut', command)
  }

  /** How a sketch can still move. */
  motions(step: string): Promise<MotionMessage[]> {
    return this.ask('Motions', step)
  }

  /** What would set the rest of a sketch. */
  finish(step: string): Promise<ProposalMessage[]> {
    return this.ask('Finish', step)
  }

  /** The curves of a sketch as a command would leave them; null where it would be refused. */
  preview(step: string, command: string): Promise<CurveMessage[] | null> {
    return this.ask('Preview', step, command)
  }

  copy(step: string, picks: string[]): Promise<string | null> {
    return this.ask('Copy', step, picks)
  }

  /** The command that pastes a piece at a place. */
  paste(step: string, piece: string, x: number, y: number): Promise<string | null> {
    return this.ask('Paste', step, piece, x, y)
  }

  input(message: InputMessage): Promise<AnswerMessage> {
    const numbered = { ...message, number: ++this.inputs }
    return this.surely(() => this.ask('Input', numbered))
  }

  /** A new form with the picks; answers are JSON. */
  beginForm(kind: string, picks: string[]): Promise<string | null> {
    return this.ask('BeginForm', kind, picks)
  }

  editForm(step: string): Promise<string | null> {
    return this.ask('EditForm', step)
  }

  /** What places the centre of a hole on a face; a command and its reference, or the refusal, as JSON. */
  placeCentre(draft: FormDraft, face: string, ray: number[], reach: number): Promise<string> {
    return this.ask('PlaceCentre', JSON.stringify(draft), face, ray, reach)
  }

  form(draft: FormDraft, input: FormInput): Promise<string | null> {
    return this.ask('Form', JSON.stringify(draft), JSON.stringify(input))
  }

  /** The part as a form would make it, or as it stands before the form. */
  previewForm(draft: FormDraft, before = false, quick = false): Promise<PreviewMessage | null> {
    return this.ask<PreviewMessage | null>('PreviewForm', JSON.stringify(draft), before, quick).then(unpacked)
  }

  /** Does one thing to a draft of the measuring tool; all of it JSON. */
  gauge(draft: string, input: string | null): Promise<string | null> {
    return this.ask('Gauge', draft, input)
  }

  /** Which parameters and sizes move a reading. */
  drives(reading: string): Promise<DrivesMessage> {
    return this.ask('Drives', reading)
  }

  /** The stretches of material along something straight, as JSON. */
  probe(reference: string): Promise<string> {
    return this.ask('Probe', reference)
  }

  /** The plane of something flat: origin, x, y; null for what is not. */
  planeOf(reference: string): Promise<number[] | null> {
    return this.ask('PlaneOf', reference)
  }

  /** What a draft of a datum determines; drafts and answers are JSON. */
  datum(draft: string): Promise<string | null> {
    return this.ask('Datum', draft)
  }

  dragDatum(draft: string, field: string, ray: number[], reach: number): Promise<string | null> {
    return this.ask('DragDatum', draft, field, ray, reach)
  }

  draft(step: string): Promise<string | null> {
    return this.ask('Draft', step)
  }

  curve(draft: string): Promise<string | null> {
    return this.ask('Curve', draft)
  }

  pointAt(reference: string, ray: number[]): Promise<string> {
    return this.ask('PointAt', reference, ray)
  }

  quickPlane(picks: string[], towards: number[]): Promise<string> {
    return this.ask('QuickPlane', picks, towards)
  }

  /** The command that takes something of the model into a sketch, or the refusal, as JSON. */
  take(step: string, how: string, reference: string): Promise<string> {
    return this.ask('Take', step, how, reference)
  }

  apart(
    step: string,
    reference: string,
    x: number,
    y: number,
    ray: number[],
    point: string | null,
  ): Promise<string | null> {
    return this.ask('Apart', step, reference, x, y, ray, point)
  }

  viewFrame(view: number[]): Promise<string | null> {
    return this.ask('ViewFrame', view)
  }

  edgeOn(step: string, towards: number[]): Promise<string | null> {
    return this.ask('EdgeOn', step, towards)
  }

  offers(step: string | null, picks: string[]): Promise<OfferMessage[]> {
    return this.ask('Offers', step, picks)
  }
}
