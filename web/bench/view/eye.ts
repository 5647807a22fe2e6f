// From where a model is looked at, in perspective or in parallel, and what of it is clipped away.
import * as THREE from "three";

const opening = 32; // degrees, of the perspective view

export class Eye {
  /** Whether Z is up, and the front looks along −Y; else Y is up, and it looks along Z. */
  zUp = false;
  yaw = 0.55;
  pitch = 0.32;
  distance = 1;
  readonly target = new THREE.Vector3();
  /** The part that was framed last, -1 for all, null once somebody moved. */
  framed: number | null = null;
  /** Whether lines that are parallel stay so. */
  parallel = false;
  /** How much of the model is clipped away on the near side, of its diameter. */
  clip = 0;

  /** What is up of the model. */
  up(): THREE.Vector3 { return this.zUp ? new THREE.Vector3(0, 0, 1) : new THREE.Vector3(0, 1, 0); }

  /** From the model towards the eye, or towards one that looks from other angles. */
  back(yaw = this.yaw, pitch = this.pitch): THREE.Vector3 {
    const c = Math.cos(pitch), right = Math.sin(yaw) * c, above = Math.sin(pitch), ahead = Math.cos(yaw) * c;
    return this.zUp ? new THREE.Vector3(right, -ahead, above) : new THREE.Vector3(right, above, ahead);
  }

  turn(yaw: number, pitch: number): void {
    this.yaw += yaw;
    this.pitch = Math.max(-1.55, Math.min(1.55, this.pitch + pitch));
  }
}

/** Half the height that is seen at a distance of one. */
export const tall = Math.tan((opening * Math.PI) / 360);

/** The cameras of a view: both look the same way, one of them is in use. */
export class Cameras {
  private readonly far = new THREE.PerspectiveCamera(opening, 1, 0.01, 100);
  private readonly flat = new THREE.OrthographicCamera(-1, 1, 1, -1, 0.01, 100);
  private readonly aim = new THREE.Vector3();
  private near = 0;
  camera: THREE.PerspectiveCamera | THREE.OrthographicCamera = this.far;
  aspect = 1;

  /** Puts the cameras where an eye is that looks at a model of a radius, shifted by something. */
  place(eye: Eye, shift: THREE.Vector3, radius: number): void {
    const c = eye.parallel ? this.flat : this.far, high = eye.distance * tall;
    this.camera = c;
    c.position.copy(eye.back()).multiplyScalar(eye.distance).add(this.aim.copy(eye.target).add(shift));
    const begins = eye.distance - 3 * radius;
    this.near = eye.clip > 0 ? Math.max(eye.distance - radius + 2 * radius * eye.clip, eye.distance * 0.01) : -Infinity;
    c.near = Math.max(this.near, eye.parallel ? begins : Math.max(begins, eye.distance * 0.01));
    c.far = Math.max(eye.distance + 3 * radius, c.near + 1e-6 * radius);
    if (c === this.far) this.far.aspect = this.aspect;
    else Object.assign(this.flat, { left: -high * this.aspect, right: high * this.aspect, top: high, bottom: -high });
    c.up.copy(eye.up());
    c.lookAt(this.aim);
    c.updateProjectionMatrix();
    c.updateMatrixWorld();
  }

  /** The ray through a place of the picture, x and y from -1 to 1; it begins where the picture does. */
  ray(x: number, y: number): THREE.Ray {
    const ray = new THREE.Raycaster(), c = this.camera;
    ray.setFromCamera(new THREE.Vector2(x, y), c);
    return this.clipped(ray.ray);
  }

  /** The ray on which a place in space is seen. */
  rayTo(p: THREE.Vector3): THREE.Ray {
    const v = p.clone().project(this.camera);
    return this.ray(v.x, v.y);
  }

  private clipped(ray: THREE.Ray): THREE.Ray {
    if (this.near === -Infinity) return ray;
    const ahead = this.camera.getWorldDirection(new THREE.Vector3()), passed = ray.origin.clone().sub(this.camera.position).dot(ahead);
    ray.origin.addScaledVector(ray.direction, Math.max(0, (this.near - passed) / ray.direction.dot(ahead)));
    return ray;
  }

  /** The unit direction from what is looked at to the eye. */
  toEye(): THREE.Vector3 { return this.camera.position.clone().sub(this.aim).normalize(); }
}
