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
	judge:   judgeMagneto,
}

// magnetoSide is one position of the switch and what was seen there.
type magnetoSide struct {
	name, other    string
	stopped, rough bool
	drop           *quantity.Value // none when it could not be computed
	after          *quantity.Value // on BOTH again
	held           string          // the field with the seconds held
	tooShort       bool
	deadPlugs      []int // cylinders, from 1, that cooled instead of warming
}

func (s magnetoSide) noDrop(limits Record) bool {
	return s.drop != nil && (s.drop.Sign() <= 0 || s.drop.Below(limits.Value("dropMin")))
}

func judgeMagneto(in input, out *sheet) {
	r, l := in.reading, in.limits
	base, tolerance := r.Value("base"), l.Value("recoveryTolerance")
	sides := [2]*magnetoSide{
		{name: "left", other: "right", stopped: r.Flag("stoppedLeft"), rough: r.Flag("roughLeft"), held: "secondsHeldLeft",
			drop: difference(r, "base", "left"), after: optional(r, "bothAfterLeft")},
		{name: "right", other: "left", stopped: r.Flag("stoppedRight"), rough: r.Flag("roughRight"), held: "secondsHeldRight",
			drop: difference(r, "bothAfterLeft", "right"), after: optional(r, "bothAfterRight")},
	}
	if after := sides[0].after; after != nil && after.Sub(base).Abs().Above(tolerance) {
		sides[1].drop = nil
	}
	for _, s := range sides {
		if s.stopped {
			s.drop, s.after = nil, nil
		}
		s.tooShort = !s.stopped && l.Has("dwellMinSeconds") && r.Has(s.held) && r.Value(s.held).Below(l.Value("dwellMinSeconds"))
		for i, row := range r.Rows("egtC") {
			if row.Value(s.name).Below(row.Value("both")) {
				s.deadPlugs = append(s.deadPlugs, i+1)
			}
		}
	}
	apart := magnetoDifference(sides, l)
	out.value("leftDrop", sides[0].drop)
	out.value("rightDrop", sides[1].drop)
	out.value("difference", apart)

	m := magnetoJudge{in: in, out: out, sides: sides, baseOff: base.Sub(l.Value("base")).Abs().Above(l.Value("baseTolerance"))}
	m.stopsAndMissingDrops()
	m.baseSpeed()
	m.drops()
	m.difference(apart)
	m.recovery()
	m.dwell()
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

// magnetoDifference is |leftDrop − rightDrop|; there is none when a side
// stopped or showed no drop.
func magnetoDifference(sides [2]*magnetoSide, limits Record) *quantity.Value {
	for _, s := range sides {
		if s.drop == nil || s.noDrop(limits) {
			return nil
		}
	}
	d := sides[0].drop.Sub(*sides[1].drop).Abs()
	return &d
}

type magnetoJudge struct {
	in      input
	out     *sheet
	sides   [2]*magnetoSide
	baseOff bool
}

// numbers reports whether the side's numbers can be judged.
func (m magnetoJudge) numbers(s *magnetoSide) bool { return !m.baseOff && !s.tooShort }

func (m magnetoJudge) say(v quantity.Value) string { return v.String() + " " + m.in.speedUnit }

func (m magnetoJudge) limit(name string) string { return m.say(m.in.limits.Value(name)) }

// ground is an action that leans on the ground, or its stand-in for a type
// that forbids that.
func (m magnetoJudge) ground(action string) []string {
	if m.in.lean {
		return []string{action}
	}
	return []string{"repeat-check"}
}

func (m magnetoJudge) stopsAndMissingDrops() {
	for _, s := range m.sides {
		if s.stopped {
			m.out.find(seen{
				Finding: Finding{"engine-stopped", s.name, fmt.Sprintf("The engine stopped on the %s magneto.", s.name)},
				outcome: Abnormal, decision: Stop,
				causes:  []Cause{cause("dead-magneto", s.name), cause("switch-to-off", "")},
				actions: []string{"throttle-idle-mixture-off", "ground-aircraft"},
			})
		}
	}
	bothSides := m.sides[0].noDrop(m.in.limits) && m.sides[1].noDrop(m.in.limits)
	for _, s := range m.sides {
		if !s.noDrop(m.in.limits) {
			continue
		}
		var because []Cause
		if bothSides {
			because = append(because, cause("switch-fault", ""))
		}
		because = append(because, cause("ungrounded-magneto", s.other))
		message := fmt.Sprintf("The drop on the %s magneto is %s; at least %s must be seen. The %s magneto may be live with the switch off.",
			s.name, m.say(*s.drop), m.limit("dropMin"), s.other)
		if s.drop.Sign() < 0 {
			because = append(because, cause("throttle-moved", ""))
			message = fmt.Sprintf("The speed rose by %s on the %s magneto instead of dropping. The %s magneto may be live with the switch off.",
				m.say(s.drop.Abs()), s.name, s.other)
		}
		m.out.find(seen{
			Finding: Finding{"no-drop", s.name, message},
			outcome: Abnormal, decision: Stop,
			causes:  append(because, cause("early-timing", s.name)),
			actions: []string{"keep-clear-of-propeller", "ground-aircraft"},
		})
	}
}

func (m magnetoJudge) baseSpeed() {
	if m.baseOff {
		m.out.find(seen{
			Finding: Finding{"base-out-of-range", "", fmt.Sprintf("The run-up speed is %s; it must be within %s of %s for the drops to mean anything.",
				m.say(m.in.reading.Value("base")), m.limit("baseTolerance"), m.limit("base"))},
			outcome: Invalid, decision: Recheck, actions: []string{"set-base"},
		})
	}
}

func (m magnetoJudge) drops() {
	for _, s := range m.sides {
		if s.drop == nil || !m.numbers(s) || !s.drop.Above(m.in.limits.Value("dropMax")) {
			continue
		}
		f := seen{
			Finding: Finding{"drop-excessive", s.name, fmt.Sprintf("The drop on the %s magneto is %s; the limit is %s.",
				s.name, m.say(*s.drop), m.limit("dropMax"))},
			outcome: Abnormal, decision: Recheck,
		}
		if s.rough {
			f.causes, f.actions = []Cause{s.plug()}, m.ground("clear-plugs")
		} else {
			f.causes, f.actions = []Cause{cause("over-rich", ""), cause("late-timing", s.name)}, m.ground("lean-and-repeat")
			if len(s.deadPlugs) > 0 {
				f.causes = append([]Cause{s.plug()}, f.causes...)
			}
		}
		m.out.find(f)
	}
	for _, s := range m.sides {
		excessive := s.drop != nil && m.numbers(s) && s.drop.Above(m.in.limits.Value("dropMax"))
		if s.stopped || !s.rough || excessive || s.noDrop(m.in.limits) {
			continue
		}
		m.out.find(seen{
			Finding: Finding{"rough-running", s.name, fmt.Sprintf("The engine ran rough on the %s magneto.", s.name)},
			outcome: Caution, decision: Recheck,
			causes: []Cause{s.plug()}, actions: m.ground("clear-plugs"),
		})
	}
}

// plug is the fouled plug as a cause; the cylinders are named when exhaust
// temperatures fell on this magneto instead of rising.
func (s magnetoSide) plug() Cause {
	c := cause("fouled-plug", s.name)
	if len(s.deadPlugs) > 0 {
		names := strings.Trim(strings.ReplaceAll(fmt.Sprint(s.deadPlugs), " ", ", "), "[]")
		c.Message = fmt.Sprintf("The plug fired by the %s magneto in cylinder %s is dead: its exhaust cooled instead of warming.", s.name, names)
	}
	return c
}

func (m magnetoJudge) difference(apart *quantity.Value) {
	left, right := m.sides[0], m.sides[1]
	if apart == nil || !m.numbers(left) || !m.numbers(right) || !apart.Above(m.in.limits.Value("differenceMax")) {
		return
	}
	most := m.in.limits.Value("dropMax")
	if left.drop.Above(most) || right.drop.Above(most) {
		return
	}
	larger := left
	if right.drop.Above(*left.drop) {
		larger = right
	}
	m.out.find(seen{
		Finding: Finding{"difference-excessive", larger.name, fmt.Sprintf("The drops differ by %s; the limit is %s. The larger one is on the %s magneto.",
			m.say(*apart), m.limit("differenceMax"), larger.name)},
		outcome: Abnormal, decision: Recheck,
		causes: []Cause{cause("uneven-magnetos", "")}, actions: m.ground("clear-plugs"),
	})
}

func (m magnetoJudge) recovery() {
	tolerance := m.in.limits.Value("recoveryTolerance")
	for _, s := range m.sides {
		if off := m.offBase(s); off != nil && off.Sign() < 0 && off.Abs().Above(tolerance) {
			m.out.find(seen{
				Finding: Finding{"slow-recovery", s.name, fmt.Sprintf("Back on BOTH after the %s magneto the speed stayed %s low; within %s is allowed.",
					s.name, m.say(off.Abs()), m.limit("recoveryTolerance"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{cause("switch-or-lead", s.other)}, actions: []string{"repeat-check"},
			})
		}
	}
	for _, s := range m.sides {
		if off := m.offBase(s); off != nil && off.Above(tolerance) {
			m.out.find(seen{
				Finding: Finding{"base-moved", s.name, fmt.Sprintf("Back on BOTH after the %s magneto the speed was %s high; within %s is allowed.",
					s.name, m.say(*off), m.limit("recoveryTolerance"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{cause("throttle-moved", "")}, actions: []string{"repeat-check"},
			})
		}
	}
}

// offBase is how far above base the speed came back, where that is judged.
func (m magnetoJudge) offBase(s *magnetoSide) *quantity.Value {
	if s.after == nil || !m.numbers(s) {
		return nil
	}
	off := s.after.Sub(m.in.reading.Value("base"))
	return &off
}

func (m magnetoJudge) dwell() {
	for _, s := range m.sides {
		if s.stopped || !m.in.reading.Has(s.held) {
			continue
		}
		held := m.in.reading.Value(s.held)
		switch {
		case s.tooShort:
			m.out.find(seen{
				Finding: Finding{"held-too-short", s.name, fmt.Sprintf("The %s magneto was held for %s s; at least %s s are needed to see the drop settle.",
					s.name, held, m.in.limits.Value("dwellMinSeconds"))},
				outcome: Invalid, decision: Recheck, actions: []string{"repeat-check"},
			})
		case m.in.limits.Has("dwellMaxSeconds") && held.Above(m.in.limits.Value("dwellMaxSeconds")):
			m.out.find(seen{
				Finding: Finding{"held-too-long", s.name, fmt.Sprintf("The %s magneto was held for %s s; more than %s s fouls the plugs that rest.",
					s.name, held, m.in.limits.Value("dwellMaxSeconds"))},
				outcome: Caution, decision: Continue, actions: []string{"repeat-check"},
			})
		}
	}
}

// cause is the cause of that code, its sentence told of the side.
func cause(code, side string) Cause {
	message := causes[code]
	if strings.Contains(message, "%s") {
		message = fmt.Sprintf(message, side)
	}
	return Cause{code, side, message}
}
