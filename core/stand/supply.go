package stand

// fed is the part of the fuel that is asked for and comes. Where nothing but pumps bring
// it, it is as much as their pressure says.
func (e *engine) fed(rig *Rig) float64 {
	comes := 1 - e.knobs[fuelBlocked]
	if e.starved {
		return 0
	}
	if rig.Fuel.EnginePump == 0 && rig.Fuel.ElectricPump > 0 {
		comes *= min(e.fuel/(0.25*rig.Fuel.Regulated), 1)
	}
	return comes
}

// supplied brings fuel pressure and suction to what their pumps give.
func (e *engine) supplied(rig *Rig, master bool) {
	f := rig.Fuel
	gives := min(f.EnginePump*(1-e.knobs[fuelPumpWorn])*min(e.speed*4, 1), f.Regulated)
	if e.controls[Pump] == 1 && master {
		gives = max(gives, f.ElectricPump*(1-e.knobs[electricPumpWorn]))
	}
	if e.starved {
		gives = 0
	}
	if gives > 0 {
		gives = max(gives-f.Sag*(1+6*e.knobs[fuelVent])*e.flow/f.FullFlow, 0)
		gives *= 1 + 0.5*e.knobs[fuelPressureHigh]
	}
	e.fuel = toward(e.fuel, gives, 0.5)
	draws := rig.SuctionInHg * min(e.speed*2.6, 1) * (1 - 0.4*e.knobs[vacuumWorn]) * (1 + 0.3*e.knobs[vacuumHigh])
	e.suction = toward(e.suction, draws, 1)
}
