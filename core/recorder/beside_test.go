package recorder_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/recorder"
)

func TestWhatWasTypedStandsBesideWhatWasRecorded(t *testing.T) {
	m := recorder.Measured{
		Check: "magneto",
		Reading: map[string]any{
			"unit": "rpm", "base": 1748.0, "left": 1660.0, "bothAfterLeft": 1748.0, "right": 1600.0,
			"bothAfterRight": 1750.0,
		},
	}
	// A drop is typed for the left, a speed for the right.
	got := m.Compare(map[string]any{
		"unit": "rpm", "base": 1750.0, "left": 90.0, "bothAfterLeft": 1750.0, "right": 1650.0, "bothAfterRight": 1750.0,
	}, "")
	assert.Equal(t, []recorder.Beside{
		{Label: "BOTH", Unit: "rpm", Recorded: "1748", Typed: "1750", Differs: "-2"},
		{Label: "LEFT, drop", Unit: "rpm", Recorded: "88", Typed: "90", Differs: "-2"},
		{Label: "BOTH again", Unit: "rpm", Recorded: "1748", Typed: "1750", Differs: "-2"},
		{Label: "RIGHT, drop", Unit: "rpm", Recorded: "148", Typed: "100", Differs: "+48", Apart: true},
		{Label: "BOTH at the end", Unit: "rpm", Recorded: "1750", Typed: "1750", Differs: "0"},
	}, got)
	for _, one := range m.Compare(nil, "") {
		assert.Empty(t, one.Typed+one.Differs)
		assert.False(t, one.Apart)
	}
	assert.Nil(t, recorder.Measured{Check: "nothing"}.Compare(nil, ""))
}
