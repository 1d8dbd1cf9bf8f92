import { useDatum } from './datum'
import { useForm } from './form'
import { useGauge } from './gauge'
import { usePart } from './part'
import { useWork } from './work'

/** A ray that looks at the origin from straight above, for what was not chosen in the picture. */
export const FROM_ABOVE = [0, 0, 1e4, 0, 0, -1]

/**
 * What becomes of something that was chosen from a list or a row: the same as of what is clicked in the view. Whoever waits for a plane
 * gets it; else the bench that is open takes it; else it is a pick.
 */
export function useChoice() {
  const part = usePart()
  const work = useWork()
  const form = useForm()
  const gauge = useGauge()
  const datum = useDatum()

  /** Whether a plane is waited for. */
  const wantsPlane = (): boolean => !work.sketch && (work.awaitingPlane !== null || work.moving !== null)

  /** Gives whoever waits for a plane what was chosen, where that is one. */
  function takePlane(name: string): void {
    const wanted = work.moving ? 'a plane, a planar face or a frame' : 'a plane or a planar face'
    if (!work.isPlane(name)) part.notice = `That is not planar; pick ${wanted}.`
    else if (work.moving) void work.moveTo(name)
    else void work.sketchOn(name, work.awaitingPlane!)
  }

  /** @param sight The line of sight to where it was chosen. */
  function choose(name: string, more = false, sight: number[] = FROM_ABOVE): void {
    if (wantsPlane()) takePlane(name)
    else if (form.open) void form.pick(name)
    else if (gauge.open) void gauge.pick(name, more)
    else if (datum.open) void datum.pick(name, sight)
    else if (!more) work.picks = work.picks.length === 1 && work.picks[0] === name ? [] : [name]
    else work.picks = work.picks.includes(name) ? work.picks.filter((p) => p !== name) : [...work.picks, name]
  }

  return { wantsPlane, takePlane, choose }
}
