package stand

// fed is the part of the fuel that is asked for and comes.
func (e *engine) fed(rig *Rig, master bool) float64 {
	if !e.pumpNeeded(rig) {
		return 1 - e.knobs[fuelBlocked]
	}
	return min(e.fuel/(0.25*rig.Fuel.Regulated), 1) * (1 - e.knobs[fuelBlocked])
}

// pumpNeeded reports whether nothing but pumps bring the fuel: an injected engine that
// turns too slowly for its own is still given enough by its lines.
func (e *engine) pumpNeeded(rig *Rig) bool {
	return rig.Fuel.EnginePump == 0 && rig.Fuel.ElectricPump > 0
}

// supplied brings fuel pressure and suction to what their pumps give.
func (e *engine) supplied(rig *Rig, master bool) {
	f := rig.Fuel
	gives := min(f.EnginePump*(1-e.knobs[fuelPumpWorn])*min(e.speed*4, 1), f.Regulated)
	if e.controls[Pump] == 1 && master {
		gives = max(gives, f.ElectricPump*(1-e.knobs[electricPumpWorn]))
	}
	if gives > 0 {
		gives = max(gives-f.Sag*(1+6*e.knobs[fuelVent])*e.flow/f.FullFlow, 0)
		gives *= 1 + 0.5*e.knobs[fuelPressureHigh]
	}
	e.fuel = toward(e.fuel, gives, 0.5)
	draws := rig.SuctionInHg * min(e.speed*2.6, 1) * (1 - 0.4*e.knobs[vacuumWorn]) * (1 + 0.3*e.knobs[vacuumHigh])
	e.suction = toward(e.suction, draws, 1)
}
