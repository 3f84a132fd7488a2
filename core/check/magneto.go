package check

import (
	"fmt"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// magneto is the ignition check of an engine with two magnetos: the switch
// goes to LEFT (the left magneto fires alone, the right one is grounded), back
// to BOTH, to RIGHT, back to BOTH, and the speed is read each time at its
// lowest. leftDrop = base − left, rightDrop = bothAfterLeft − right,
// difference = |leftDrop − rightDrop|.
var magneto = Definition{
	Name: "magneto", fits: []string{"magnetos"},
	Title: "Magneto check",
	Rule: "Each magneto must run the engine alone, and each must be switched off by the switch. " +
		"A drop says that the other magneto was really off; a large or rough drop says that the one left alone " +
		"fires badly.",
	Fields: []form.Field{
		{Name: "unit", Label: "Tachometer in", Kind: form.Choice, Choices: []string{"rpm", "percent"}},
		{Name: "base", Label: "BOTH", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{
			Name: "left", Label: "LEFT", Unit: form.Speed, Kind: form.Number, DropsFrom: "base", Taken: form.ReadOff,
			Step: 10, NullWhen: []string{"stoppedLeft"},
		},
		{
			Name: "roughLeft", Label: "rough on LEFT", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"stoppedLeft"},
		},
		{Name: "stoppedLeft", Label: "stopped on LEFT", Kind: form.Flag, Taken: form.Watched},
		{
			Name: "bothAfterLeft", Label: "BOTH again", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff,
			Step: 10, NullWhen: []string{"stoppedLeft"},
		},
		{
			Name: "right", Label: "RIGHT", Unit: form.Speed, Kind: form.Number, DropsFrom: "bothAfterLeft",
			Taken: form.ReadOff, Step: 10, NullWhen: []string{"stoppedLeft", "stoppedRight"},
		},
		{
			Name: "roughRight", Label: "rough on RIGHT", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"stoppedLeft", "stoppedRight"},
		},
		{
			Name: "stoppedRight", Label: "stopped on RIGHT", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"stoppedLeft"},
		},
		{
			Name: "bothAfterRight", Label: "BOTH at the end", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff,
			Step: 10, NullWhen: []string{"stoppedLeft", "stoppedRight"},
		},
		{
			Name: "secondsHeldLeft", Label: "held on LEFT", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "dwell", Decimals: 1, Optional: true,
		},
		{
			Name: "secondsHeldRight", Label: "held on RIGHT", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "dwell", Decimals: 1, Optional: true,
		},
		{Name: "egtC", Label: "exhaust temperatures", Kind: form.Rows, Optional: true, AtLeast: 1, AtMost: 12,
			Each: []form.Field{
				{Name: "both", Label: "on BOTH", Unit: "°C", Kind: form.Number},
				{Name: "left", Label: "on LEFT", Unit: "°C", Kind: form.Number},
				{Name: "right", Label: "on RIGHT", Unit: "°C", Kind: form.Number},
			}},
	},
	Limits: []form.Field{
		{Name: "base", Label: "run-up speed", Unit: form.Speed, Kind: form.Number},
		{
			Name: "baseTolerance", Label: "run-up speed within", Unit: form.Speed, Kind: form.Number,
			Silent: form.SilentHabit(25,
				"Few handbooks say how near the run-up speed must be set. Without it a check at another speed would "+
					"be judged."),
		},
		{Name: "dropMax", Label: "largest drop", Unit: form.Speed, Kind: form.Number},
		{Name: "differenceMax", Label: "largest difference", Unit: form.Speed, Kind: form.Number},
		{
			Name: "dropMin", Label: "smallest drop", Unit: form.Speed, Kind: form.Number,
			Silent: form.SilentHabit(10,
				"Most handbooks give none. Something must prove that a side was off: a drop, or with two lanes a lamp."),
		},
		{
			Name: "recoveryTolerance", Label: "back on BOTH within", Unit: form.Speed, Kind: form.Number,
			Silent: form.SilentHabit(25,
				"Few handbooks say how near the speed must come back. Without it a contact that has gone poor is "+
					"not seen."),
		},
		{
			Name: "dwellMinSeconds", Label: "hold at least", Unit: "s", Kind: form.Number, Decimals: 1, Optional: true,
			Silent: form.SilentHabit(2, "Without it a drop that was not waited for is taken as it is."),
		},
		{
			Name: "dwellMaxSeconds", Label: "hold at most", Unit: "s", Kind: form.Number, Decimals: 1, Optional: true,
			Silent: form.SilentHabit(10, "Without it nobody is told when one side runs alone so long that plugs foul."),
		},
		{
			Name: "egtFallMinC", Label: "cylinder cold from a fall of", Unit: "°C", Kind: form.Number, Optional: true,
			Silent: form.SilentHabit(defaultFallC, "Without it 25 °C is taken: less is the needle's own scatter."),
		},
	},
	Scales: []Scale{
		{
			Label: "left drop", Unit: form.Speed, Of: "leftDrop", Side: "left", Computed: true, Low: "dropMin",
			High: "dropMax", Followed: true,
		},
		{
			Label: "right drop", Unit: form.Speed, Of: "rightDrop", Side: "right", Computed: true, Low: "dropMin",
			High: "dropMax", Followed: true,
		},
		{Label: "difference", Unit: form.Speed, Of: "difference", Last: true, Computed: true, High: "differenceMax"},
	},
	Trace:   []string{"base", "left", "bothAfterLeft", "right", "bothAfterRight"},
	ordered: [][2]string{{"dropMin", "dropMax"}, {"dwellMinSeconds", "dwellMaxSeconds"}},
	Causes:  twoMagnetos.list(),
	Actions: orderedActions(throttleIdleMixtureOff, groundAircraft, keepClearOfPropeller, setBase, clearPlugs,
		leanAndRepeat, repeatCheck),
	example: func(s sample) map[string]any {
		return s.sides("left", "right", "bothAfterLeft", "bothAfterRight", "Left", "Right")
	},
	judge: func(in input, out *sheet) { twoMagnetos.judge(in, out) },
}

// defaultFallC is the fall of an exhaust temperature that shows a dead plug where
// the type gives none, in °C.
const defaultFallC = 25

// ignition is one kind of double ignition: how its two circuits are called,
// the fields they are read into, and the sentences of their causes.
type ignition struct {
	sides [2]circuit
	both  string // the switch position with both on
	stop  action // for an engine that has stopped
	blames
}

// blames are the causes that ignition checks know; %s is the circuit.
type blames struct {
	dead, toOff, ungrounded, switchFault, moved, early, plug, rich, late, uneven, lead Cause
}

func (b blames) list() []Cause {
	return []Cause{
		b.dead, b.toOff, b.ungrounded, b.switchFault, b.moved, b.early, b.plug, b.rich, b.late, b.uneven, b.lead,
	}
}

type circuit struct {
	name, called string // in findings, in sentences
	// The fields of the side's reading, and of its row of exhaust temperatures.
	low, after, rough, stopped, held, exhaust string
	drop                                      string // the computed value
	// proof reads off whether a lamp showed the other circuit off; nil where there
	// is no lamp.
	proof func(form.Record) bool
}

var twoMagnetos = ignition{
	both: "BOTH", stop: throttleIdleMixtureOff,
	sides: [2]circuit{
		{
			name: "left", called: "the left magneto", low: "left", after: "bothAfterLeft", rough: "roughLeft",
			stopped: "stoppedLeft", held: "secondsHeldLeft", exhaust: "left", drop: "leftDrop",
		},
		{
			name: "right", called: "the right magneto", low: "right", after: "bothAfterRight", rough: "roughRight",
			stopped: "stoppedRight", held: "secondsHeldRight", exhaust: "right", drop: "rightDrop",
		},
	},
	blames: blames{
		because("dead-magneto", "%s does not fire."),
		because("switch-to-off", "The switch was turned one notch too far, to OFF."),
		because("ungrounded-magneto", "%s is not switched off by the switch: its lead to ground is open."),
		because("switch-fault", "The ignition switch grounds neither magneto."),
		because("throttle-moved", "The throttle moved during the check."),
		because("early-timing", "%s is timed too early."),
		because("fouled-plug", "A plug fired by %s is fouled."),
		because("over-rich", "The mixture is too rich for this speed and altitude."),
		because("late-timing", "%s is timed too late."),
		because("uneven-magnetos", "The two magnetos are not timed or firing alike."),
		because("switch-or-lead", "The switch or the lead of %s makes poor contact."),
	},
}

// side is one circuit alone, and what was seen there.
type side struct {
	circuit
	other          int // index of the other circuit
	stopped, rough bool
	drop           *quantity.Value // none when it could not be computed
	after          *quantity.Value // on both again
	tooShort       bool
	// proven says that a lamp showed the other circuit off, where the type asks
	// for no drop.
	proven bool
	// coldCylinders, from 1, fell on this circuit instead of rising, by falls.
	coldCylinders []int
	falls         []quantity.Value
}

func (s side) noDrop(limits form.Record) bool {
	return s.drop != nil && !s.proven && (s.drop.Sign() <= 0 || s.drop.Below(limits.Value("dropMin")))
}

func (g ignition) judge(in input, out *sheet) {
	r, l := in.reading, in.limits
	base, tolerance := r.Value("base"), l.Value("recoveryTolerance")
	var sides [2]*side
	from := "base"
	for i, c := range g.sides {
		s := &side{circuit: c, other: 1 - i, stopped: r.Flag(c.stopped), rough: r.Flag(c.rough),
			drop: difference(r, from, c.low), after: optional(r, c.after)}
		if s.stopped {
			s.drop, s.after = nil, nil
		}
		s.tooShort = !s.stopped && l.Has("dwellMinSeconds") && r.Has(c.held) &&
			r.Value(c.held).Below(l.Value("dwellMinSeconds"))
		s.proven = c.proof != nil && l.Value("dropMin").Sign() == 0 && c.proof(r)
		for n, row := range r.Rows("egtC") {
			if fall := row.Value("both").Sub(row.Value(c.exhaust)); !fall.Below(coldFrom(l)) {
				s.coldCylinders, s.falls = append(s.coldCylinders, n+1), append(s.falls, fall)
			}
		}
		sides[i], from = s, c.after
	}
	if after := optional(r, g.sides[0].after); after != nil && after.Sub(base).Abs().Above(tolerance) {
		sides[1].drop = nil
	}
	apart := dropsApart(sides, l)
	out.value(g.sides[0].drop, sides[0].drop)
	out.value(g.sides[1].drop, sides[1].drop)
	out.value("difference", apart)

	j := ignitionJudge{
		ignition: g, in: in, out: out, sides: sides,
		baseOff: base.Sub(l.Value("base")).Abs().Above(l.Value("baseTolerance")),
	}
	j.stopsAndMissingDrops()
	j.baseSpeed()
	j.drops()
	j.difference(apart)
	j.coldCylinders()
	j.recovery()
	j.dwell()
}

// coldFrom is the fall of temperature that shows a cylinder without a spark.
func coldFrom(limits form.Record) quantity.Value {
	if limits.Has("egtFallMinC") && limits.Value("egtFallMinC").Sign() > 0 {
		return limits.Value("egtFallMinC")
	}
	return quantity.Scaled(defaultFallC, 0)
}

func difference(r form.Record, a, b string) *quantity.Value {
	if !r.Has(a) || !r.Has(b) {
		return nil
	}
	d := r.Value(a).Sub(r.Value(b))
	return &d
}

func optional(r form.Record, name string) *quantity.Value {
	if !r.Has(name) {
		return nil
	}
	v := r.Value(name)
	return &v
}

// dropsApart is |first drop − second drop|; there is none when a side stopped
// or showed no drop.
func dropsApart(sides [2]*side, limits form.Record) *quantity.Value {
	for _, s := range sides {
		if s.drop == nil || s.noDrop(limits) {
			return nil
		}
	}
	d := sides[0].drop.Sub(*sides[1].drop).Abs()
	return &d
}

type ignitionJudge struct {
	ignition
	in      input
	out     *sheet
	sides   [2]*side
	baseOff bool
}

// on blames a cause on a circuit.
func (c Cause) on(blamed circuit) Cause {
	c.Side, c.Message = blamed.name, capital(fmt.Sprintf(c.Message, blamed.called))
	return c
}

func capital(sentence string) string { return strings.ToUpper(sentence[:1]) + sentence[1:] }

// numbers reports whether the side's numbers can be judged.
func (j ignitionJudge) numbers(s *side) bool { return !j.baseOff && !s.tooShort }

func (j ignitionJudge) speed(v quantity.Value) string { return j.in.speed(v) }

func (j ignitionJudge) limit(name string) string { return j.speed(j.in.limits.Value(name)) }

// ground is an action that leans on the ground, or its stand-in for a type
// that forbids that.
func (j ignitionJudge) ground(a action) action {
	if j.in.lean {
		return a
	}
	return repeatCheck
}

func (j ignitionJudge) stopsAndMissingDrops() {
	for _, s := range j.sides {
		if s.stopped {
			j.out.add(Abnormal, Stop, "engine-stopped", s.name, "The engine stopped on %s.", s.called).
				because(j.dead.on(s.circuit), j.toOff).do(j.stop, groundAircraft)
		}
	}
	bothSides := j.sides[0].noDrop(j.in.limits) && j.sides[1].noDrop(j.in.limits)
	for _, s := range j.sides {
		if !s.noDrop(j.in.limits) {
			continue
		}
		other := j.ignition.sides[s.other].called
		f := j.out.add(Abnormal, Stop, "no-drop", s.name,
			"The drop on %s is %s; at least %s must be seen. %s may be live with the switch off.",
			s.called, j.speed(*s.drop), j.limit("dropMin"), capital(other))
		if bothSides {
			f.because(j.switchFault)
		}
		f.because(j.ungrounded.on(j.ignition.sides[s.other]))
		if s.drop.Sign() < 0 {
			f.because(j.moved)
			f.Message = fmt.Sprintf("The speed rose by %s on %s instead of dropping. %s may be live with the switch off.",
				j.speed(s.drop.Abs()), s.called, capital(other))
		}
		f.because(j.early.on(s.circuit)).do(keepClearOfPropeller, groundAircraft)
	}
}

func (j ignitionJudge) baseSpeed() {
	if j.baseOff {
		j.out.add(Invalid, Recheck, "base-out-of-range", "",
			"The run-up speed is %s; it must be within %s of %s for the drops to mean anything.",
			j.speed(j.in.reading.Value("base")), j.limit("baseTolerance"), j.limit("base")).do(setBase)
	}
}

func (j ignitionJudge) excessive(s *side) bool {
	return s.drop != nil && j.numbers(s) && s.drop.Above(j.in.limits.Value("dropMax"))
}

func (j ignitionJudge) drops() {
	for _, s := range j.sides {
		if !j.excessive(s) {
			continue
		}
		f := j.out.add(Abnormal, Recheck, "drop-excessive", s.name, "The drop on %s is %s; the limit is %s.", s.called,
			j.speed(*s.drop), j.limit("dropMax"))
		if s.rough {
			f.because(j.fouled(s)).do(j.ground(clearPlugs))
			continue
		}
		if len(s.coldCylinders) > 0 {
			f.because(j.fouled(s))
		}
		f.because(j.rich, j.late.on(s.circuit)).do(j.ground(leanAndRepeat))
	}
	for _, s := range j.sides {
		if s.stopped || !s.rough || j.excessive(s) || s.noDrop(j.in.limits) {
			continue
		}
		j.out.add(Caution, Recheck, "rough-running", s.name, "The engine ran rough on %s.", s.called).
			because(j.fouled(s)).do(j.ground(clearPlugs))
	}
}

// coldCylinders finds a plug that the temperatures show dead whatever the drop.
func (j ignitionJudge) coldCylinders() {
	for _, s := range j.sides {
		if len(s.coldCylinders) == 0 || s.stopped || !j.numbers(s) {
			continue
		}
		var fell []string
		for i, n := range s.coldCylinders {
			fell = append(fell, fmt.Sprintf("Cylinder %d fell by %s °C on %s.", n, s.falls[i], s.called))
		}
		j.out.add(Caution, Recheck, "cold-cylinder", s.name,
			"%s A cylinder that fires rises on one magneto; from a fall of %s °C it does not fire.",
			strings.Join(fell, " "), coldFrom(j.in.limits)).because(j.fouled(s)).do(j.ground(clearPlugs))
	}
}

// fouled is the fouled plug as a cause; the cylinders are named when exhaust
// temperatures fell on this circuit instead of rising.
func (j ignitionJudge) fouled(s *side) Cause {
	c := j.plug.on(s.circuit)
	if len(s.coldCylinders) > 0 {
		names := strings.Trim(strings.ReplaceAll(fmt.Sprint(s.coldCylinders), " ", ", "), "[]")
		c.Message = fmt.Sprintf("The plug fired by %s in cylinder %s is dead: its exhaust cooled instead of warming.",
			s.called, names)
	}
	return c
}

func (j ignitionJudge) difference(apart *quantity.Value) {
	first, second := j.sides[0], j.sides[1]
	if apart == nil || !j.numbers(first) || !j.numbers(second) || !apart.Above(j.in.limits.Value("differenceMax")) ||
		j.excessive(first) || j.excessive(second) {
		return
	}
	larger := first
	if second.drop.Above(*first.drop) {
		larger = second
	}
	j.out.add(Abnormal, Recheck, "difference-excessive", larger.name,
		"The drops differ by %s; the limit is %s. The larger one is on %s.",
		j.speed(*apart), j.limit("differenceMax"), larger.called).because(j.uneven).do(j.ground(clearPlugs))
}

func (j ignitionJudge) recovery() {
	tolerance := j.in.limits.Value("recoveryTolerance")
	for _, s := range j.sides {
		if off := j.offBase(s); off != nil && off.Sign() < 0 && off.Abs().Above(tolerance) {
			j.out.add(Caution, Recheck, "slow-recovery", s.name,
				"Back on %s after %s the speed stayed %s low; within %s is allowed.",
				j.both, s.called, j.speed(off.Abs()), j.limit("recoveryTolerance")).
				because(j.lead.on(j.ignition.sides[s.other])).do(repeatCheck)
		}
	}
	for _, s := range j.sides {
		if off := j.offBase(s); off != nil && off.Above(tolerance) {
			j.out.add(Caution, Recheck, "base-moved", s.name,
				"Back on %s after %s the speed was %s high; within %s is allowed.",
				j.both, s.called, j.speed(*off), j.limit("recoveryTolerance")).
				because(j.moved).do(repeatCheck).again()
		}
	}
}

// offBase is how far above base the speed came back, where that is judged.
func (j ignitionJudge) offBase(s *side) *quantity.Value {
	if s.after == nil || !j.numbers(s) {
		return nil
	}
	off := s.after.Sub(j.in.reading.Value("base"))
	return &off
}

func (j ignitionJudge) dwell() {
	l := j.in.limits
	for _, s := range j.sides {
		if s.stopped || !j.in.reading.Has(s.held) {
			continue
		}
		switch held := j.in.reading.Value(s.held); {
		case s.tooShort:
			j.out.add(Invalid, Recheck, "held-too-short", s.name,
				"%s was held for %s s; at least %s s are needed to see the drop settle.",
				capital(s.called), held, l.Value("dwellMinSeconds")).do(repeatCheck)
		case l.Has("dwellMaxSeconds") && held.Above(l.Value("dwellMaxSeconds")):
			j.out.add(Caution, Continue, "held-too-long", s.name,
				"%s was held for %s s; more than %s s fouls the plugs that rest.",
				capital(s.called), held, l.Value("dwellMaxSeconds")).do(repeatCheck)
		}
	}
}

var (
	throttleIdleMixtureOff = do(50, "throttle-idle-mixture-off",
		"Throttle to idle and mixture to cut-off: let the engine stop. Never back to BOTH with the throttle open.")
	clearPlugs = do(140, "clear-plugs",
		"Clear the plugs: run-up power, mixture leaned to the peak, brakes held and watched, half a minute; then "+
			"repeat the check once.").
		to("no leaning", "Repeat the check once, the speed settled; the plugs are for maintenance.")
	leanAndRepeat = do(150, "lean-and-repeat", "Lean the mixture to smooth running and repeat the check once.").
			to("no leaning", "Repeat the check once, the speed settled.")
)
