package school

// Condition is what a finding means for the aircraft that it is about.
type Condition string

// The conditions of a finding.
const (
	Undecided Condition = "undecided" // nobody has decided yet: it keeps the aircraft on the ground
	CarriedOn Condition = "carried-on"
	Deferred  Condition = "deferred"
	Grounded  Condition = "grounded"
	Closed    Condition = "closed" // cleared and tested again, or normal for the type
)

// ConditionOf is what a person's decision on a finding makes of it.
func ConditionOf(decision string) Condition {
	switch decision {
	case "carried-on", "deferred", "grounded":
		return Condition(decision)
	case "cleared", "normal-for-type":
		return Closed
	}
	return Undecided
}

// Open reports whether the finding still stands.
func (c Condition) Open() bool { return c != Closed }

// Grounds reports whether it keeps the aircraft on the ground.
func (c Condition) Grounds() bool { return c == Undecided || c == Grounded }
