package quantity

// Hectopascals converts a pressure in inches of mercury to hPa at one decimal,
// in whole numbers: 1 inHg = 33.8638866667 hPa.
func Hectopascals(inHg Value) Value {
	hundredths, _ := inHg.At(2).Units()
	const perHundredth = 338_638_866_667 // 10⁻¹² hPa
	const perTenth = 100_000_000_000     // 10⁻¹² hPa
	return Scaled((hundredths*perHundredth+perTenth/2)/perTenth, 1)
}
