import { computed, type ComputedRef } from 'vue'
import type { PartCommand } from '../api/client'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { useWork } from '../stores/work'
import { MODEL_TOOLS } from '../stores/benches'

export interface Action {
  name: string
  bench: string
  group: string
  label: string
  stroke: string
  icon: string
  run(): void
}

/** Every tool as something to press, type a shortcut for, or find by name. */
export function useActions(): ComputedRef<Action[]> {
  const part = usePart()
  const work = useWork()
  const datum = useDatum()
  const form = useForm()
  const look = useLook()
  const gauge = useGauge()

  function runModelTool(name: string): void {
    part.notice = null
    const picks = work.picks
    if (name !== 'readings') gauge.close()
    switch (name) {
      case 'new-sketch':
        work.leaveSketch()
        if (picks.length === 1 && work.isPlane(picks[0]!)) void work.sketchOn(picks[0]!)
        else work.awaitingPlane = 'select'
        return
      case 'holes':
        look.card = look.card === 'holes' ? null : 'holes'
        return
      case 'mass-card':
        look.card = look.card === 'mass' ? null : 'mass'
        return
      case 'probe':
        if (picks.length === 1) void form.probe(picks[0]!)
        else part.notice = 'Pick anything straight first: an axis, an edge, a round face or a plane.'
        return
      case 'plane':
      case 'axis':
      case 'point':
      case 'frame':
        toDatum()
        void datum.begin(name, picks)
        return
      case 'space-line':
      case 'space-spline':
      case 'space-circle':
      case 'space-arc':
        toDatum()
        void datum.beginCurve(name.slice(6) as 'line', picks)
        return
      case 'view-frame':
        toDatum()
        void datum.asViewed(work.view.frame)
        return
      case 'take-copy':
      case 'take-section':
      case 'take-crossing':
        if (work.sketch) work.startTaking(name.slice(5))
        else part.notice = 'Open a sketch first: what is taken from the model comes into it.'
        return
      case 'quick':
        toDatum()
        if (picks.length === 0 || picks.length > 2)
          part.notice = 'Pick one point or two first: a vertex, a centre, an end of a curve.'
        else void datum.follow(picks, work.view.towards)
        return
      case 'measure':
        work.leaveSketch()
        form.close()
        datum.close()
        void gauge.begin(picks)
        return
      case 'readings':
        look.card = look.card === 'readings' ? null : 'readings'
        return
      default:
        work.leaveSketch()
        void part.send({
          command: 'add-step',
          step: { kind: 'reading', id: '', number: 0, name: '', what: name, of: [] },
        } as PartCommand)
    }
  }

  function startForm(name: string): void {
    part.notice = null
    gauge.close()
    void work.startForm(name)
  }

  function toDatum(): void {
    work.leaveSketch()
    form.close()
    work.awaitingPlane = null
    work.bench = 'Datum'
  }

  return computed(() => [
    ...work.tools.map((t) => ({
      ...t,
      icon: t.name,
      run: () => (t.bench === 'Form' ? startForm(t.name) : void work.chooseTool(t.name)),
    })),
    ...MODEL_TOOLS.map((t) => ({ group: '', ...t, run: () => runModelTool(t.name) })),
  ])
}
