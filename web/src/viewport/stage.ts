import CameraControls from 'camera-controls'
import * as THREE from 'three'
import type { Viewpoint } from '../stores/views'
import { colour } from '../theme'

CameraControls.install({ THREE })

export type Direction = 'front' | 'back' | 'left' | 'right' | 'top' | 'bottom' | 'corner'

const LOOKS: Record<Direction, [number, number, number]> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  top: [0, 0, 1],
  bottom: [0, 0, -1],
  corner: [0.62, -1, 0.72],
}

/** How wide the eye opens where it sees in perspective, from top to bottom: about what a screen takes in at arm's length. */
const FIELD = 28

/** Frames without a change before the loop sleeps. */
const RESTLESS = 5

/** The canvas, the camera and the loop that draws only when something changed. */
export class Stage {
  readonly scene = new THREE.Scene()
  readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, -1e5, 1e5)
  private readonly eye = new THREE.PerspectiveCamera(FIELD)
  private deep = false
  readonly renderer: THREE.WebGLRenderer
  readonly controls: CameraControls
  private readonly clock = new THREE.Clock()
  private readonly frameListeners: (() => void)[] = []
  private readonly observer: ResizeObserver
  /** Whoever asked the system for less motion gets views that jump rather than glide. */
  private readonly calm = window.matchMedia('(prefers-reduced-motion: reduce)')
  private dirty = true
  private awake = false
  private idle = 0
  private running = true
  /** Whether the view has its scale: it fits itself no more. */
  private framed = false
  /** What the view is fitted to, as long as no hand has moved it. */
  private fitted: THREE.Box3 | null = null

  constructor(private readonly host: HTMLElement) {
    this.renderer = new THREE.WebGLRenderer({ antialias: true, stencil: true })
    this.renderer.localClippingEnabled = true
    this.renderer.setPixelRatio(window.devicePixelRatio)
    this.renderer.domElement.className = 'block h-full w-full touch-none'
    host.prepend(this.renderer.domElement)
    this.camera.up.set(0, 0, 1)
    this.controls = new CameraControls(this.camera, this.renderer.domElement)
    this.controls.dollyToCursor = true
    this.controls.minZoom = 0.01
    this.controls.maxZoom = 5000
    this.controls.mouseButtons.right = CameraControls.ACTION.ROTATE
    this.controls.mouseButtons.middle = CameraControls.ACTION.TRUCK
    this.controls.mouseButtons.wheel = CameraControls.ACTION.ZOOM
    // Two fingers turn and zoom, three shift; one does what the left button does.
    this.controls.touches.two = CameraControls.ACTION.TOUCH_ZOOM_ROTATE
    this.controls.touches.three = CameraControls.ACTION.TOUCH_TRUCK
    this.letLeftTurn(true)
    const head = new THREE.DirectionalLight(0xffffff, 1.7)
    head.position.set(-300, 700, 900)
    this.camera.add(head)
    this.scene.add(this.camera, new THREE.HemisphereLight(0xffffff, 0xb8ad98, 1.9))
    this.calm.addEventListener('change', this.pace)
    this.pace()
    this.observer = new ResizeObserver(() => this.resize())
    this.observer.observe(host)
    window.addEventListener('themechange', this.paint)
    this.paint()
    this.resize()
    void this.look('corner', false)
    // Whatever moves the view by itself, or is about to.
    for (const moving of ['controlstart', 'control', 'transitionstart', 'update', 'wake'] as const)
      this.controls.addEventListener(moving, this.wake)
    this.controls.addEventListener('control', () => this.keepScale())
    this.redraw()
  }

  /** Whether dragging with the left button or one finger turns the view; not while a sketch tool wants it. */
  letLeftTurn(on: boolean): void {
    this.controls.touches.one = on ? CameraControls.ACTION.TOUCH_ROTATE : CameraControls.ACTION.NONE
    this.controls.mouseButtons.left = on ? CameraControls.ACTION.ROTATE : CameraControls.ACTION.NONE
  }

  onFrame(listener: () => void): void {
    this.frameListeners.push(listener)
  }

  redraw(): void {
    this.dirty = true
    this.wake()
  }

  /** In perspective, as an eye sees it, or in parallel, as a drawing shows it. */
  setPerspective(deep: boolean): void {
    this.deep = deep
    this.aim()
    this.redraw()
  }

  /** What the picture is taken with. */
  get lens(): THREE.OrthographicCamera | THREE.PerspectiveCamera {
    return this.deep ? this.eye : this.camera
  }

  /** Brings what the picture is taken with to where the view is now: the eye stands where what is looked at has the size that it has in
   *  parallel. */
  private aim(): void {
    const { camera, eye } = this
    camera.updateMatrixWorld()
    if (!this.deep) return
    const away = camera.top / camera.zoom / Math.tan((FIELD * Math.PI) / 360)
    const back = new THREE.Vector3(0, 0, 1).applyQuaternion(camera.quaternion)
    eye.position.copy(this.controls.getTarget(new THREE.Vector3())).addScaledVector(back, away)
    eye.quaternion.copy(camera.quaternion)
    eye.aspect = camera.right / camera.top
    eye.near = away / 100
    eye.far = away * 100
    eye.updateProjectionMatrix()
    eye.updateMatrixWorld()
  }

  /** Millimetres across one pixel, at what is looked at. */
  perPixel(): number {
    return (this.camera.top - this.camera.bottom) / this.camera.zoom / this.host.clientHeight
  }

  toScreen(p: THREE.Vector3): { x: number; y: number } {
    const v = p.clone().project(this.lens)
    return { x: ((v.x + 1) / 2) * this.host.clientWidth, y: ((1 - v.y) / 2) * this.host.clientHeight }
  }

  ray(event: { clientX: number; clientY: number }): THREE.Ray {
    const box = this.host.getBoundingClientRect()
    const at = new THREE.Vector2(
      ((event.clientX - box.left) / box.width) * 2 - 1,
      1 - ((event.clientY - box.top) / box.height) * 2,
    )
    const caster = new THREE.Raycaster()
    this.aim()
    caster.setFromCamera(at, this.lens)
    return caster.ray
  }

  async look(direction: Direction, smooth = true): Promise<void> {
    await this.lookFrom(new THREE.Vector3(...LOOKS[direction]), smooth)
  }

  /** Turns the view as a drag over so many pixels does. */
  turn(x: number, y: number): void {
    const turn = (2 * Math.PI) / this.host.clientHeight
    void this.controls.rotate(-x * turn, -y * turn, false)
    this.redraw()
  }

  /** Looks square onto a plane with its y axis up as far as that goes. */
  async lookFrom(from: THREE.Vector3, smooth = true): Promise<void> {
    const target = this.controls.getTarget(new THREE.Vector3())
    const eye = target.clone().addScaledVector(from.clone().normalize(), 1000)
    await this.controls.setLookAt(eye.x, eye.y, eye.z, target.x, target.y, target.z, this.glides(smooth))
    this.redraw()
  }

  /** From where, at what and how large the view looks. */
  viewpoint(): Viewpoint {
    const { controls, camera } = this
    return {
      eye: controls.getPosition(new THREE.Vector3()).toArray(),
      at: controls.getTarget(new THREE.Vector3()).toArray(),
      zoom: camera.zoom,
    }
  }

  /** Looks as it was looked before. */
  async lookAs({ eye, at, zoom }: Viewpoint): Promise<void> {
    this.keepScale()
    const [x = 0, y = 0, z = 0] = eye
    const [u = 0, v = 0, w = 0] = at
    const glides = this.glides(true)
    const moves = [this.controls.setLookAt(x, y, z, u, v, w, glides), this.controls.zoomTo(zoom, glides)]
    this.redraw()
    await Promise.all(moves)
  }

  async fit(box: THREE.Box3, smooth = true): Promise<void> {
    if (box.isEmpty()) return
    const sphere = box.getBoundingSphere(new THREE.Sphere())
    const height = this.camera.top - this.camera.bottom
    const width = this.camera.right - this.camera.left
    const reach = Math.max(sphere.radius, 0.5)
    const glides = this.glides(smooth)
    this.framed = true
    this.fitted = box.clone()
    const moves = [
      this.controls.moveTo(sphere.center.x, sphere.center.y, sphere.center.z, glides),
      this.controls.zoomTo(Math.min(height, width) / (2.35 * reach), glides),
    ]
    this.redraw()
    await Promise.all(moves)
  }

  /** Whether the view still fits itself to a part that opens. */
  get opening(): boolean {
    return !this.framed
  }

  /** Fits to what is there so far while a part opens, until all of it is there. */
  fitAtFirst(box: THREE.Box3, whole: boolean): void {
    if (this.framed) return
    void this.fit(box, false)
    this.framed = whole
  }

  /** No fitting by itself from now on. */
  keepScale(): void {
    this.framed = true
    this.fitted = null
  }

  dispose(): void {
    this.running = false
    this.observer.disconnect()
    this.calm.removeEventListener('change', this.pace)
    window.removeEventListener('themechange', this.paint)
    this.controls.dispose()
    this.renderer.dispose()
    this.renderer.domElement.remove()
  }

  private glides(wanted: boolean): boolean {
    return wanted && !this.calm.matches
  }

  private readonly pace = (): void => {
    this.controls.smoothTime = this.calm.matches ? 0 : 0.12
    this.controls.draggingSmoothTime = this.calm.matches ? 0 : 0.04
  }

  private readonly paint = (): void => {
    this.scene.background = new THREE.Color(colour('canvas'))
    this.redraw()
  }

  private resize(): void {
    const { clientWidth: w, clientHeight: h } = this.host
    if (w === 0 || h === 0) return
    this.renderer.setSize(w, h, false)
    const half = 60
    this.camera.left = (-half * w) / h
    this.camera.right = (half * w) / h
    this.camera.top = half
    this.camera.bottom = -half
    this.camera.updateProjectionMatrix()
    if (this.fitted) void this.fit(this.fitted, false)
    this.redraw()
  }

  private readonly wake = (): void => {
    this.idle = 0
    if (this.awake || !this.running) return
    this.rest(false)
    this.clock.getDelta()
    requestAnimationFrame(this.tick)
  }

  /** Says so on the canvas as well, for whoever drives the page. */
  private rest(at: boolean): void {
    if (this.awake === !at) return
    this.awake = !at
    this.renderer.domElement.dataset.still = String(at)
  }

  /** Sleeps once nothing has changed for a few frames; an open page that nobody touches costs nothing. */
  private readonly tick = (): void => {
    if (!this.running) return
    const moved = this.controls.update(this.clock.getDelta())
    this.idle = moved || this.dirty ? 0 : this.idle + 1
    this.rest(this.idle >= RESTLESS)
    if (this.awake) requestAnimationFrame(this.tick)
    if (!moved && !this.dirty) return
    this.dirty = false
    this.aim()
    this.renderer.render(this.scene, this.lens)
    for (const listener of this.frameListeners) listener()
  }
}
