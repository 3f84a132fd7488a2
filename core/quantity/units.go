package quantity

// Hectopascals converts a pressure in inches of mercury to hPa at so many
// decimals (one or two), in whole numbers: 1 inHg = 33.8638866667 hPa.
func Hectopascals(inHg Value, decimals int) Value {
	hundredths, _ := inHg.At(2).Units()
	const perHundredth = 338_638_866_667 // 10⁻¹² hPa
	step := int64(100_000_000_000)       // 10⁻¹² hPa
	if decimals == 2 {
		step /= 10
	}
	return Scaled((hundredths*perHundredth+step/2)/step, decimals)
}
