package api

import (
	"context"
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// TestGroupsTakeTurns: however many of one group wait, somebody of another waits for one
// of them at most; who gives up keeps nobody waiting.
func TestGroupsTakeTurns(t *testing.T) {
	turn := newTurns(bounds{1, 1, 100, 50, 50})
	leave, err := turn.enter(context.Background(), "a", "0")
	require.NoError(t, err)
	var order []string
	var all sync.WaitGroup
	wait := func(ctx context.Context, group, person string) {
		n := turn.waits
		all.Go(func() {
			leave, err := turn.enter(ctx, group, person)
			if err != nil {
				return
			}
			order = append(order, group)
			leave()
		})
		for {
			turn.mu.Lock()
			there := turn.waits > n
			turn.mu.Unlock()
			if there {
				return
			}
		}
	}
	for i := range 10 {
		wait(context.Background(), "a", fmt.Sprint(i))
	}
	gives, up := context.WithCancel(context.Background())
	wait(gives, "c", "gives up")
	wait(context.Background(), "b", "late")
	up()
	for {
		turn.mu.Lock()
		gone := turn.waits == 11
		turn.mu.Unlock()
		if gone {
			break
		}
	}
	leave()
	leave() // a second time changes nothing
	all.Wait()
	assert.Equal(t, "b", order[1], "%v", order)
	assert.Len(t, order, 11)
	assert.Zero(t, turn.inAll)
}

// TestTurnsAreBounded: whatever comes and goes, no more go on at once than may, no more of
// a group or person are let in than may, and in the end nobody is counted any more.
func TestTurnsAreBounded(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		groupAtOnce := rapid.IntRange(1, 2).Draw(t, "group at once")
		atOnce, group, person := rapid.IntRange(1, 3).Draw(t, "at once"), rapid.IntRange(1, 5).Draw(t,
			"group"), rapid.IntRange(1, 3).Draw(t, "person")
		turn := newTurns(bounds{atOnce, groupAtOnce, 4, group, person})
		var mu sync.Mutex
		running, most, ofGroup, mostOfGroup := 0, 0, map[int]int{}, 0
		var all sync.WaitGroup
		for _, who := range rapid.SliceOfN(rapid.IntRange(0, 8), 1, 40).Draw(t, "who") {
			all.Go(func() {
				leave, err := turn.enter(context.Background(), fmt.Sprint(who%3), fmt.Sprint(who))
				if err != nil {
					return
				}
				mu.Lock()
				running++
				ofGroup[who%3]++
				most, mostOfGroup = max(most, running), max(mostOfGroup, ofGroup[who%3])
				mu.Unlock()
				mu.Lock()
				running--
				ofGroup[who%3]--
				mu.Unlock()
				leave()
			})
		}
		all.Wait()
		assert.LessOrEqual(t, most, atOnce)
		assert.LessOrEqual(t, mostOfGroup, groupAtOnce)
		assert.Zero(t,
			turn.inAll+turn.waits+len(turn.running)+len(turn.inGroup)+len(turn.ofPerson)+len(turn.queues)+
				len(turn.order))
		full := newTurns(bounds{1, 1, 0, group, person})
		_, err := full.enter(context.Background(), "a", "a")
		require.NoError(t, err)
		_, err = full.enter(context.Background(), "b", "b")
		require.ErrorIs(t, err, errBusy)
	})
}
