package stand

import (
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
)

// Rig is a type's own constants: what the models are told of it.
type Rig struct {
	Type   string `json:"type" doc:"the aircraft type"`
	Source string `json:"source"`
	// StaticSpeed is the speed at full throttle, standing, in the unit of the type's
	// tachometer: what a relative speed of 1 is.
	StaticSpeed float64     `json:"staticSpeed"`
	Engine      EngineRig   `json:"engine"`
	Oil         OilRig      `json:"oil"`
	Electric    ElectricRig `json:"electric"`
	// SuctionInHg is what the regulator holds; 0 for no vacuum pump.
	SuctionInHg float64      `json:"suctionInHg,omitempty"`
	Fuel        FuelRig      `json:"fuel"`
	Governor    *GovernorRig `json:"governor,omitempty"`
	Rotor       *RotorRig    `json:"rotor,omitempty"`
	Turbine     *TurbineRig  `json:"turbine,omitempty"`
	Diesel      *DieselRig   `json:"diesel,omitempty"`
}

// EngineRig is a spark-ignition engine.
type EngineRig struct {
	Cylinders int `json:"cylinders"`
	// InertiaSeconds is how long the torque of full power takes to bring the engine
	// with its propeller to static speed.
	InertiaSeconds float64 `json:"inertiaSeconds"`
	// Friction is the share of static torque that friction takes, warm: standing, more
	// with speed, and more with its square.
	Friction [3]float64 `json:"friction"`
	// ThrottleClosed and ThrottleOpen are the throttle's areas: 1 lets through, choked,
	// what the engine breathes at static speed.
	ThrottleClosed float64 `json:"throttleClosed"`
	ThrottleOpen   float64 `json:"throttleOpen"`
	// Rich is the equivalence ratio at full rich at sea level, IdleRich what it is on the
	// idle jet.
	Rich     float64 `json:"rich"`
	IdleRich float64 `json:"idleRich"`
	// OneFlame is the part of its torque that a cylinder gives with one flame.
	OneFlame float64 `json:"oneFlame"`
	// HeatC is how much warmer the air is through the heater at full power, HeatLoss the
	// part of the throttle's area that the way through it costs.
	HeatC    float64 `json:"heatC,omitempty"`
	HeatLoss float64 `json:"heatLoss,omitempty"`
	// Injected engines have fuel lines that boil when hot; ChokeRich is how many times
	// richer a choke makes it.
	Injected  bool    `json:"injected,omitempty"`
	ChokeRich float64 `json:"chokeRich,omitempty"`
	// Stroke is the fuel of a stroke of the primer, PumpFuel that of a second of the
	// electric pump with the mixture rich: in seconds of an idling engine's fuel.
	Stroke   float64 `json:"stroke,omitempty"`
	PumpFuel float64 `json:"pumpFuel,omitempty"`
	// CrankSpeed is the relative speed at which a healthy starter turns it warm.
	CrankSpeed float64 `json:"crankSpeed"`
	// HeadC is the cylinder heads' temperature above the air's at full power, or that of
	// the coolant, whose cooler opens at CoolantC; ExhaustC the exhaust's at its peak.
	HeadC float64 `json:"headC"`
	// CowlFlaps is how much warmer the heads are with their flaps closed than open, of what
	// they stand above the air; 0 for an engine that has none.
	CowlFlaps float64 `json:"cowlFlaps,omitempty"`
	CoolantC  float64 `json:"coolantC,omitempty"`
	ExhaustC  float64 `json:"exhaustC"`
}

// OilRig is the oil and its pressure.
type OilRig struct {
	// Relief is the pressure that the valve holds, in the gauge's unit.
	Relief float64 `json:"relief"`
	// Pump is how soon the pump comes to it: the relative flow a relative speed gives
	// against warm clearances.
	Pump float64 `json:"pump"`
	// RiseC is the oil's temperature above the air's at full power without a
	// thermostat; ThermostatC where the cooler opens.
	RiseC       float64 `json:"riseC"`
	ThermostatC float64 `json:"thermostatC"`
	// FillSeconds is how long the pressure takes to come up after a start, warm.
	FillSeconds float64 `json:"fillSeconds"`
}

// ElectricRig is the battery, the starter and the alternator of each engine.
type ElectricRig struct {
	BatteryV  float64 `json:"batteryV"`
	BatteryAh float64 `json:"batteryAh"`
	// BatteryOhm is its inner resistance at 20 °C, full.
	BatteryOhm float64 `json:"batteryOhm"`
	// StarterA is the current that turns a warm engine.
	StarterA float64 `json:"starterA"`
	// StarterHeat is how many seconds of cranking bring the starter to its limit from
	// cold.
	StarterHeat float64 `json:"starterHeatSeconds"`
	RegulatorV  float64 `json:"regulatorV"`
	AlternatorA float64 `json:"alternatorA"`
	// CutIn is the relative engine speed below which the alternator gives nothing.
	CutIn     float64 `json:"cutIn"`
	LoadA     float64 `json:"loadA" doc:"what is always on"`
	AvionicsA float64 `json:"avionicsA"`
}

// FuelRig is the fuel pressure, in the gauge's unit, and flow.
type FuelRig struct {
	// EnginePump is what the engine's pump gives at static speed, ElectricPump the
	// electric one; 0 for none. Regulated is the most that there is.
	EnginePump   float64 `json:"enginePump,omitempty"`
	ElectricPump float64 `json:"electricPump,omitempty"`
	Regulated    float64 `json:"regulated"`
	// Sag is how much full flow takes of it.
	Sag float64 `json:"sag"`
	// FullFlow is the flow at full power, in litres an hour.
	FullFlow float64 `json:"fullFlow"`
}

// GovernorRig is a constant-speed propeller.
type GovernorRig struct {
	// High and Low are the relative speeds that it governs to with the lever forward
	// and at the detent.
	High float64 `json:"high"`
	Low  float64 `json:"low"`
	// Rate is how much of the way from fine to coarse the hub goes in a second, warm.
	Rate float64 `json:"rate"`
	// Fine, Coarse and Feather are the torque that it takes at static speed at each
	// pitch, of static torque.
	Fine    float64 `json:"fine"`
	Coarse  float64 `json:"coarse"`
	Feather float64 `json:"feather"`
}

// Faults lists what of the rig cannot be used.
func (r Rig) Problems(t aircraft.Type) []form.Problem {
	out := []form.Problem{}
	within := func(path string, value, least, most float64) {
		if !(value >= least && value <= most) {
			out = append(out, form.Problem{
				Field: path, Reason: fmt.Sprintf("must be %g to %g, not %g", least, most, value),
			})
		}
	}
	missing := func(path, reason string) {
		out = append(out, form.Problem{Field: path, Reason: "is missing: " + reason})
	}
	if t.ID != r.Type {
		out = append(out, form.Problem{Field: "$.type", Reason: "is no aircraft type that serves"})
	}
	within("$.staticSpeed", r.StaticSpeed, 10, 10_000)
	e := r.Engine
	within("$.engine.inertiaSeconds", e.InertiaSeconds, 0.1, 20)
	within("$.engine.cowlFlaps", e.CowlFlaps, 0, 1)
	within("$.oil.relief", r.Oil.Relief, 1, 200)
	within("$.oil.pump", r.Oil.Pump, 0.1, 20)
	within("$.oil.fillSeconds", r.Oil.FillSeconds, 0.2, 20)
	within("$.electric.batteryV", r.Electric.BatteryV, 12, 30)
	within("$.electric.batteryAh", r.Electric.BatteryAh, 5, 200)
	within("$.electric.batteryOhm", r.Electric.BatteryOhm, 0.001, 0.1)
	within("$.electric.starterHeatSeconds", r.Electric.StarterHeat, 5, 300)
	within("$.electric.cutIn", r.Electric.CutIn, 0.05, 0.9)
	within("$.fuel.fullFlow", r.Fuel.FullFlow, 1, 1000)
	if r := r.Rotor; r != nil {
		within("$.rotor.inertiaSeconds", r.InertiaSeconds, 1, 60)
	}
	if t := r.Turbine; t != nil {
		within("$.turbine.idleSpool", t.IdleSpool, 40, 80)
		within("$.turbine.fullSpool", t.FullSpool, 80, 120)
		within("$.turbine.spoolSeconds", t.SpoolSeconds, 1, 20)
		within("$.turbine.heatC", t.HeatC, 100, 1200)
		within("$.turbine.startFuel", t.StartFuel, 0.01, 0.5)
		within("$.turbine.startMore", t.StartMore, 0, 2)
		within("$.turbine.idleFuel", t.IdleFuel, 0.1, 0.9)
		if r.Rotor == nil {
			missing("$.rotor", "a turbine turns one")
		}
		return out
	}
	within("$.engine.crankSpeed", e.CrankSpeed, 0.01, 0.3)
	for i, f := range e.Friction {
		within(fmt.Sprintf("$.engine.friction[%d]", i), f, 0, 0.5)
	}
	if d := r.Diesel; d != nil {
		within("$.diesel.idle", d.Idle, 0.1, 0.9)
		within("$.diesel.full", d.Full, 0.5, 1)
		within("$.diesel.glowSeconds", d.GlowSeconds, 1, 60)
		if r.Governor == nil {
			missing("$.governor", "the control units set one")
		}
		return out
	}
	within("$.engine.cylinders", float64(e.Cylinders), 3, maxCylinders)
	within("$.engine.throttleClosed", e.ThrottleClosed, 0.01, 0.5)
	within("$.engine.throttleOpen", e.ThrottleOpen, 1, 5)
	within("$.engine.rich", e.Rich, 1, 1.8)
	within("$.engine.idleRich", e.IdleRich, 1, 1.8)
	within("$.engine.oneFlame", e.OneFlame, 0.8, 1)
	return out
}
