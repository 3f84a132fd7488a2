package check

import (
	"fmt"
	"strings"

	"jetprimer/core/quantity"
)

// magneto is the ignition check of an engine with two magnetos: the switch
// goes to LEFT (the left magneto fires alone, the right one is grounded), back
// to BOTH, to RIGHT, back to BOTH, and the speed is read each time at its
// lowest. leftDrop = base − left, rightDrop = bothAfterLeft − right,
// difference = |leftDrop − rightDrop|.
var magneto = Definition{
	Name:  "magneto",
	Title: "Magneto check",
	Rule: "Each magneto must run the engine alone, and each must be switched off by the switch. " +
		"A drop says that the other magneto was really off; a large or rough drop says that the one left alone fires badly.",
	Fields: []Field{
		{Name: "unit", Label: "Tachometer in", Kind: Choice, Choices: []string{"rpm", "percent"}},
		{Name: "base", Label: "BOTH", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "left", Label: "LEFT", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedLeft"}},
		{Name: "roughLeft", Label: "rough on LEFT", Kind: Flag, Taken: Watched, NullWhen: []string{"stoppedLeft"}},
		{Name: "stoppedLeft", Label: "stopped on LEFT", Kind: Flag, Taken: Watched},
		{Name: "bothAfterLeft", Label: "BOTH again", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedLeft"}},
		{Name: "right", Label: "RIGHT", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedLeft", "stoppedRight"}},
		{Name: "roughRight", Label: "rough on RIGHT", Kind: Flag, Taken: Watched, NullWhen: []string{"stoppedLeft", "stoppedRight"}},
		{Name: "stoppedRight", Label: "stopped on RIGHT", Kind: Flag, Taken: Watched, NullWhen: []string{"stoppedLeft"}},
		{Name: "bothAfterRight", Label: "BOTH at the end", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedLeft", "stoppedRight"}},
		{Name: "secondsHeldLeft", Label: "held on LEFT", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Optional: true},
		{Name: "secondsHeldRight", Label: "held on RIGHT", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Optional: true},
		{Name: "egtC", Label: "exhaust temperatures", Kind: Rows, Optional: true, AtLeast: 1, AtMost: 12, Each: []Field{
			{Name: "both", Label: "on BOTH", Unit: "°C", Kind: Number},
			{Name: "left", Label: "on LEFT", Unit: "°C", Kind: Number},
			{Name: "right", Label: "on RIGHT", Unit: "°C", Kind: Number},
		}},
	},
	Limits: []Field{
		{Name: "base", Label: "run-up speed", Unit: Speed, Kind: Number},
		{Name: "baseTolerance", Label: "run-up speed within", Unit: Speed, Kind: Number},
		{Name: "dropMax", Label: "largest drop", Unit: Speed, Kind: Number},
		{Name: "differenceMax", Label: "largest difference", Unit: Speed, Kind: Number},
		{Name: "dropMin", Label: "smallest drop", Unit: Speed, Kind: Number},
		{Name: "recoveryTolerance", Label: "back on BOTH within", Unit: Speed, Kind: Number},
		{Name: "dwellMinSeconds", Label: "hold at least", Unit: "s", Kind: Number, Decimals: 1, Optional: true},
		{Name: "dwellMaxSeconds", Label: "hold at most", Unit: "s", Kind: Number, Decimals: 1, Optional: true},
	},
	ordered: [][2]string{{"dropMin", "dropMax"}, {"dwellMinSeconds", "dwellMaxSeconds"}},
	judge:   func(in input, out *sheet) { twoMagnetos.judge(in, out) },
}

// ignition is one kind of double ignition: how its two circuits are called,
// the fields they are read into, and the sentences of their causes.
type ignition struct {
	sides [2]circuit
	both  string // the switch position with both on
	// causes are sentences by code; %s is the circuit.
	causes map[string]string
}

type circuit struct {
	name, called string // in findings, in sentences
	// The fields of the side's reading, and of its row of exhaust temperatures.
	low, after, rough, stopped, held, exhaust string
	drop                                      string // the computed value
}

var twoMagnetos = ignition{
	both: "BOTH",
	sides: [2]circuit{
		{name: "left", called: "the left magneto", low: "left", after: "bothAfterLeft", rough: "roughLeft", stopped: "stoppedLeft", held: "secondsHeldLeft", exhaust: "left", drop: "leftDrop"},
		{name: "right", called: "the right magneto", low: "right", after: "bothAfterRight", rough: "roughRight", stopped: "stoppedRight", held: "secondsHeldRight", exhaust: "right", drop: "rightDrop"},
	},
	causes: map[string]string{
		"dead-magneto":       "%s does not fire.",
		"switch-to-off":      "The switch was turned one notch too far, to OFF.",
		"ungrounded-magneto": "%s is not switched off by the switch: its lead to ground is open.",
		"switch-fault":       "The ignition switch grounds neither magneto.",
		"throttle-moved":     "The throttle moved during the check.",
		"early-timing":       "%s is timed too early.",
		"fouled-plug":        "A plug fired by %s is fouled.",
		"over-rich":          "The mixture is too rich for this speed and altitude.",
		"late-timing":        "%s is timed too late.",
		"uneven-magnetos":    "The two magnetos are not timed or firing alike.",
		"switch-or-lead":     "The switch or the lead of %s makes poor contact.",
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
	deadPlugs      []int // cylinders, from 1, that cooled instead of warming
}

func (s side) noDrop(limits Record) bool {
	return s.drop != nil && (s.drop.Sign() <= 0 || s.drop.Below(limits.Value("dropMin")))
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
		s.tooShort = !s.stopped && l.Has("dwellMinSeconds") && r.Has(c.held) && r.Value(c.held).Below(l.Value("dwellMinSeconds"))
		for n, row := range r.Rows("egtC") {
			if row.Value(c.exhaust).Below(row.Value("both")) {
				s.deadPlugs = append(s.deadPlugs, n+1)
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

	j := ignitionJudge{ignition: g, in: in, out: out, sides: sides, baseOff: base.Sub(l.Value("base")).Abs().Above(l.Value("baseTolerance"))}
	j.stopsAndMissingDrops()
	j.baseSpeed()
	j.drops()
	j.difference(apart)
	j.recovery()
	j.dwell()
}

func difference(r Record, a, b string) *quantity.Value {
	if !r.Has(a) || !r.Has(b) {
		return nil
	}
	d := r.Value(a).Sub(r.Value(b))
	return &d
}

func optional(r Record, name string) *quantity.Value {
	if !r.Has(name) {
		return nil
	}
	v := r.Value(name)
	return &v
}

// dropsApart is |first drop − second drop|; there is none when a side stopped
// or showed no drop.
func dropsApart(sides [2]*side, limits Record) *quantity.Value {
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

// cause is the cause of that code, blamed on a circuit; -1 blames neither.
func (j ignitionJudge) cause(code string, at int) Cause {
	c := Cause{Code: code, Message: j.causes[code]}
	if at >= 0 {
		c.Side = j.ignition.sides[at].name
		c.Message = capital(fmt.Sprintf(c.Message, j.ignition.sides[at].called))
	}
	return c
}

func capital(sentence string) string { return strings.ToUpper(sentence[:1]) + sentence[1:] }

// numbers reports whether the side's numbers can be judged.
func (j ignitionJudge) numbers(s *side) bool { return !j.baseOff && !s.tooShort }

func (j ignitionJudge) say(v quantity.Value) string { return v.String() + " " + j.in.speedUnit }

func (j ignitionJudge) limit(name string) string { return j.say(j.in.limits.Value(name)) }

// ground is an action that leans on the ground, or its stand-in for a type
// that forbids that.
func (j ignitionJudge) ground(action string) string {
	if j.in.lean {
		return action
	}
	return "repeat-check"
}

func (j ignitionJudge) stopsAndMissingDrops() {
	for i, s := range j.sides {
		if s.stopped {
			f := j.out.add(Abnormal, Stop, "engine-stopped", s.name, "The engine stopped on %s.", s.called)
			f.causes = []Cause{j.cause("dead-magneto", i), j.cause("switch-to-off", -1)}
			f.do("throttle-idle-mixture-off", "ground-aircraft")
		}
	}
	bothSides := j.sides[0].noDrop(j.in.limits) && j.sides[1].noDrop(j.in.limits)
	for i, s := range j.sides {
		if !s.noDrop(j.in.limits) {
			continue
		}
		other := j.ignition.sides[s.other].called
		f := j.out.add(Abnormal, Stop, "no-drop", s.name, "The drop on %s is %s; at least %s must be seen. %s may be live with the switch off.",
			s.called, j.say(*s.drop), j.limit("dropMin"), capital(other))
		if bothSides {
			f.causes = append(f.causes, j.cause("switch-fault", -1))
		}
		f.causes = append(f.causes, j.cause("ungrounded-magneto", s.other))
		if s.drop.Sign() < 0 {
			f.causes = append(f.causes, j.cause("throttle-moved", -1))
			f.Message = fmt.Sprintf("The speed rose by %s on %s instead of dropping. %s may be live with the switch off.",
				j.say(s.drop.Abs()), s.called, capital(other))
		}
		f.causes = append(f.causes, j.cause("early-timing", i))
		f.do("keep-clear-of-propeller", "ground-aircraft")
	}
}

func (j ignitionJudge) baseSpeed() {
	if j.baseOff {
		j.out.add(Invalid, Recheck, "base-out-of-range", "", "The run-up speed is %s; it must be within %s of %s for the drops to mean anything.",
			j.say(j.in.reading.Value("base")), j.limit("baseTolerance"), j.limit("base")).do("set-base")
	}
}

func (j ignitionJudge) excessive(s *side) bool {
	return s.drop != nil && j.numbers(s) && s.drop.Above(j.in.limits.Value("dropMax"))
}

func (j ignitionJudge) drops() {
	for i, s := range j.sides {
		if !j.excessive(s) {
			continue
		}
		f := j.out.add(Abnormal, Recheck, "drop-excessive", s.name, "The drop on %s is %s; the limit is %s.", s.called, j.say(*s.drop), j.limit("dropMax"))
		if s.rough {
			f.causes = []Cause{j.plug(i)}
			f.do(j.ground("clear-plugs"))
			continue
		}
		if len(s.deadPlugs) > 0 {
			f.causes = []Cause{j.plug(i)}
		}
		f.causes = append(f.causes, j.cause("over-rich", -1), j.cause("late-timing", i))
		f.do(j.ground("lean-and-repeat"))
	}
	for i, s := range j.sides {
		if s.stopped || !s.rough || j.excessive(s) || s.noDrop(j.in.limits) {
			continue
		}
		f := j.out.add(Caution, Recheck, "rough-running", s.name, "The engine ran rough on %s.", s.called)
		f.causes = []Cause{j.plug(i)}
		f.do(j.ground("clear-plugs"))
	}
}

// plug is the fouled plug as a cause; the cylinders are named when exhaust
// temperatures fell on this circuit instead of rising.
func (j ignitionJudge) plug(at int) Cause {
	c, s := j.cause("fouled-plug", at), j.sides[at]
	if len(s.deadPlugs) > 0 {
		names := strings.Trim(strings.ReplaceAll(fmt.Sprint(s.deadPlugs), " ", ", "), "[]")
		c.Message = fmt.Sprintf("The plug fired by %s in cylinder %s is dead: its exhaust cooled instead of warming.", s.called, names)
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
	f := j.out.add(Abnormal, Recheck, "difference-excessive", larger.name, "The drops differ by %s; the limit is %s. The larger one is on %s.",
		j.say(*apart), j.limit("differenceMax"), larger.called)
	f.causes = []Cause{j.cause("uneven-magnetos", -1)}
	f.do(j.ground("clear-plugs"))
}

func (j ignitionJudge) recovery() {
	tolerance := j.in.limits.Value("recoveryTolerance")
	for _, s := range j.sides {
		if off := j.offBase(s); off != nil && off.Sign() < 0 && off.Abs().Above(tolerance) {
			f := j.out.add(Caution, Recheck, "slow-recovery", s.name, "Back on %s after %s the speed stayed %s low; within %s is allowed.",
				j.both, s.called, j.say(off.Abs()), j.limit("recoveryTolerance"))
			f.causes = []Cause{j.cause("switch-or-lead", s.other)}
			f.do("repeat-check")
		}
	}
	for _, s := range j.sides {
		if off := j.offBase(s); off != nil && off.Above(tolerance) {
			f := j.out.add(Caution, Recheck, "base-moved", s.name, "Back on %s after %s the speed was %s high; within %s is allowed.",
				j.both, s.called, j.say(*off), j.limit("recoveryTolerance"))
			f.causes = []Cause{j.cause("throttle-moved", -1)}
			f.do("repeat-check")
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
			j.out.add(Invalid, Recheck, "held-too-short", s.name, "%s was held for %s s; at least %s s are needed to see the drop settle.",
				capital(s.called), held, l.Value("dwellMinSeconds")).do("repeat-check")
		case l.Has("dwellMaxSeconds") && held.Above(l.Value("dwellMaxSeconds")):
			j.out.add(Caution, Continue, "held-too-long", s.name, "%s was held for %s s; more than %s s fouls the plugs that rest.",
				capital(s.called), held, l.Value("dwellMaxSeconds")).do("repeat-check")
		}
	}
}
