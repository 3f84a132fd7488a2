package stand

import "math"

// RotorRig is a rotor behind belts, or a shaft, and a freewheel.
type RotorRig struct {
	// InertiaSeconds is how long the torque of full power takes to bring it to 100 %.
	InertiaSeconds float64 `json:"inertiaSeconds"`
	// Flat is the torque that it takes at 100 % with the collective down, Hover in the
	// hover; of static torque.
	Flat  float64 `json:"flat"`
	Hover float64 `json:"hover"`
	// BeltSeconds is how long the actuator takes to tighten the belts; 0 for no clutch.
	BeltSeconds float64 `json:"beltSeconds,omitempty"`
	// WarnsAt is the rotor speed below which the low-rotor warning sounds.
	WarnsAt float64 `json:"warnsAt"`
	// Governs is the engine speed that the governor holds, which works above GovernsFrom.
	Governs     float64 `json:"governs"`
	GovernsFrom float64 `json:"governsFrom"`
	// Hydraulic says that the controls are.
	Hydraulic bool `json:"hydraulic,omitempty"`
}

// belts tightens or loosens the belts and gives the torque that they can carry.
// Worn or cold ones slip longer and let the lamp burn on.
func (e *engine) belts(r *RotorRig) float64 {
	if r.BeltSeconds == 0 {
		e.tension = 1
		return math.Inf(1)
	}
	rate := Step / r.BeltSeconds
	if e.tension > 0.4 {
		rate /= 1 + 4*e.knobs[beltsWorn]
	}
	if e.controls[Clutch] == 1 {
		e.tension = min(e.tension+rate, 1)
	} else {
		e.tension = max(e.tension-3*rate, 0)
	}
	grips := max(e.tension-0.02-0.3*e.knobs[beltsLoose], 0)
	return 1.2*grips + 4*grips*grips
}

// rotored balances the torques of an engine and its rotor: together while what goes
// between them is carried, apart while belts slip or the rotor runs ahead of the
// freewheel.
func (e *engine) rotored(r *RotorRig, a *air, inertia, drive, drag float64) {
	carries := e.belts(r)
	lift := r.Flat + (r.Hover-r.Flat)*e.controls[Collective]/0.6
	takes := lift * a.density * e.rotor * math.Abs(e.rotor)
	if e.rotor > 0 {
		takes += 0.004
	}
	e.lifts = takes
	alone := (drive - drag) / inertia
	sheds := -takes / r.InertiaSeconds
	if e.speed <= 0 && drive < drag {
		alone = 0
	}
	switch {
	case carries <= 0, e.speed < e.rotor-1e-9: // apart
		held := 0.0
		if carries > 0 && e.knobs[freewheelSticks] > 0 && e.speed < e.rotor {
			held = e.knobs[freewheelSticks] * min((e.rotor-e.speed)*12, 1) // drags the engine along
		}
		e.speed += (alone + held/inertia) * Step
		e.rotor += (sheds - held/r.InertiaSeconds) * Step
		if carries > 0 && e.speed > e.rotor && alone > sheds {
			e.join(inertia, r.InertiaSeconds)
		}
	case e.speed > e.rotor+1e-9: // slipping
		by := min(carries, 3)
		e.speed += (alone - by/inertia) * Step
		e.rotor += (sheds + by/r.InertiaSeconds) * Step
		if e.speed < e.rotor {
			e.join(inertia, r.InertiaSeconds)
		}
	default: // together
		both := (drive - drag - takes) / (inertia + r.InertiaSeconds)
		through := r.InertiaSeconds*both + takes
		switch {
		case through < 0 && e.knobs[freewheelSticks] < 0.5:
			e.speed += alone * Step
			e.rotor += sheds * Step
		case through > carries:
			e.speed += (alone - carries/inertia) * Step
			e.rotor += (sheds + carries/r.InertiaSeconds) * Step
		default:
			e.speed += both * Step
			e.rotor = e.speed
		}
	}
	e.speed, e.rotor = max(e.speed, 0), max(e.rotor, 0)
}

// join brings both to the speed that they have together.
func (e *engine) join(inertia, rotor float64) {
	e.speed = (e.speed*inertia + e.rotor*rotor) / (inertia + rotor)
	e.rotor = e.speed
}

// throttled is where the throttle stands: the hand's, and above its least speed what
// the governor does with it.
func (e *engine) throttled(rig *Rig) float64 {
	at := e.controls[Throttle]
	r := rig.Rotor
	if r == nil {
		return at
	}
	if e.controls[Governor] == 1 && e.speed*rig.StaticSpeed > r.GovernsFrom && e.knobs[governorStuck] < 0.5 {
		off := (r.Governs - e.speed*rig.StaticSpeed) / rig.StaticSpeed
		e.governs = min(max(e.governs+off*1.2*Step, -0.5), 0.8)
		return min(max(at+e.governs, 0), 1)
	}
	e.governs = toward(e.governs, 0, 1)
	return min(max(at+e.governs, 0), 1)
}

// Horn reports whether the low-rotor warning sounds: the rotor turns, slower than it
// should, and the collective is not where it is silenced.
func (m *Machine) Horn() bool {
	r, e := m.rig.Rotor, &m.engines[0]
	if r == nil || m.shared[Master] == 0 || e.knobs[hornSilent] >= 0.5 {
		return false
	}
	at := e.rotor * 100
	return at < r.WarnsAt*(1+0.06*e.knobs[hornEarly]) && at > 20
}

// Lamp reports whether the clutch's lamp burns: the actuator tightens or loosens.
func (m *Machine) Lamp() bool {
	e := &m.engines[0]
	return m.shared[Master] == 1 &&
		(e.controls[Clutch] == 1 && e.tension < 1 || e.controls[Clutch] == 0 && e.tension > 0)
}
