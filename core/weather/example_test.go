package weather_test

import (
	"fmt"

	"jetprimer/core/weather"
)

func ExampleParseReport() {
	r := weather.ParseReport("XTHW 241150Z 20008G18KT 9999 FEW040 34/12 Q0996 PECULIAR")
	fmt.Println(r.Station, r.Wind.SpeedKt, r.Unknown)
	// Output: XTHW 8 [PECULIAR]
}
