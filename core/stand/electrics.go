package stand

// ship is what the engines share: battery and bus.
type ship struct {
	charge  float64 // of the battery, 0 to 1
	weak    float64 // how much of the battery a fault takes
	volts   float64 // of the bus
	ampsIn  float64 // into the battery
	airC    float64
	nominal float64
}

func (s *ship) begin(rig Rig, a air) {
	s.charge, s.airC, s.nominal = 0.97, a.tempC, rig.Electric.BatteryV
}

// rests is the battery's voltage without a load: a lead battery's falls by 8 % from full
// to empty, and by a tenth of a percent for each degree colder than 20 °C (chosen).
func (s *ship) rests() float64 {
	return s.nominal * (1.05 - 0.08*(1-s.charge) - 0.16*s.weak) * (1 + 0.0006*min(s.airC-20, 0))
}

// step brings the bus to its voltage: the regulator's where an alternator carries the
// load, else the battery's behind its resistance, which grows in the cold.
func (s *ship) step(rig *Rig, engines []engine, master, avionics bool) {
	el := rig.Electric
	load := el.LoadA
	if avionics {
		load += el.AvionicsA
	}
	starting, can, regulator := 0.0, 0.0, 0.0
	for i := range engines {
		e := &engines[i]
		starting += e.current
		turns := e.generates(&el)
		can += el.AlternatorA * turns
		if turns > 0 {
			regulator = max(regulator, el.RegulatorV*(1-0.13*e.knobs[alternatorWeak]+0.12*e.knobs[overVoltage]))
		}
	}
	if !master {
		s.volts, s.ampsIn = 0, 0
		for i := range engines {
			engines[i].amps = 0
		}
		return
	}
	resists := el.BatteryOhm * (1 + max(20-s.airC, 0)/45) * (1 + 2*s.weak) * (1.5 - 0.5*s.charge)
	into := 0.0
	if regulator > s.rests() {
		into = min((regulator-s.rests())/(resists*6), max(can-load-starting, 0))
	}
	if can >= load+starting && regulator > s.rests() {
		s.volts = toward(s.volts, regulator, 0.1)
		s.ampsIn = toward(s.ampsIn, into*(1.02-s.charge)*12, 0.5)
	} else {
		s.volts = s.rests() - (load+starting-min(can, load))*resists
		s.ampsIn = -(load + starting - min(can, load))
	}
	s.charge = min(max(s.charge+s.ampsIn*Step/3600/el.BatteryAh, 0), 1)
	for i := range engines {
		e := &engines[i]
		e.amps = 0
		if can > 0 {
			e.amps = (max(s.ampsIn, 0) + load) * el.AlternatorA * e.generates(&el) / can
		}
	}
}

// generates is the part of its current that an engine's alternator can give, or, of a
// turbine, its generator, which is the starter and gives nothing while it starts.
func (e *engine) generates(el *ElectricRig) float64 {
	turns := max(e.speed, e.spool)
	if e.spool > 0 && e.controls[Starter] == 1 {
		turns = 0
	}
	return min(max((turns-el.CutIn)/el.CutIn, 0), 1) * (1 - e.knobs[alternatorDead])
}

// cranked is the torque of the starter: its current falls as it turns (current is
// voltage less what the turning makes, over resistance), and makes heat with its
// square. One that sticks stays in while the engine runs.
func (e *engine) cranked(rig *Rig, s *ship, master bool) float64 {
	held := e.controls[Starter] == 1
	if held {
		e.stuck = e.knobs[starterStays] >= 0.5
	}
	if !held && !e.stuck || !master {
		e.current = 0
		e.starterC = toward(e.starterC, 0, 110)
		return 0
	}
	c := rig.Engine.CrankSpeed
	pulls := max(s.volts/s.nominal-e.speed/(2*c), 0)
	e.current = rig.Electric.StarterA * pulls / 0.6
	e.starterC += pulls * pulls / 0.36 / rig.Electric.StarterHeat * Step
	return 4.5 * rig.Engine.Friction[0] * pulls
}
