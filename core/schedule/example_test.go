package schedule_test

import (
	"fmt"
	"time"

	"jetprimer/core/schedule"
)

// An aircraft that stays on the ground stands against a lesson on it.
func ExampleCalendar_Obstacles() {
	at := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	c := schedule.Calendar{Zone: time.UTC, Grounded: map[string]string{"QZ-AAA": "no drop on the right magneto"}}
	for _, o := range c.Obstacles(schedule.Booking{Registration: "QZ-AAA", StartsAt: at, EndsAt: at.Add(time.Hour)}) {
		fmt.Println(o.Words)
	}
	// Output: QZ-AAA stays on the ground now: no drop on the right magneto
}
