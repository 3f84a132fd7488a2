package store_test

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"runtime/metrics"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// BenchmarkMove takes schools of 50 and of 500 students out and in: seconds,
// megabytes of the file, and the most memory that either way held. The memory
// does not grow with the school: the last metric is that of the large one over
// that of the small one.
func BenchmarkMove(b *testing.B) {
	ctx := context.Background()
	small := 0.0
	for _, students := range []int{50, 500} {
		b.Run(fmt.Sprintf("students=%d", students), func(b *testing.B) {
			d := schooltest.Demo(b, "x")
			schooltest.Enrol(b, d, students)
			for b.Loop() {
				file := filepath.Join(b.TempDir(), "school.zip")
				var size int64
				export := func() {
					f, err := os.Create(file)
					require.NoError(b, err)
					defer f.Close()
					_, err = d.Store.ExportSchool(ctx, demo.SchoolID, moveKey, f, quiet)
					require.NoError(b, err)
					size, err = f.Seek(0, io.SeekEnd)
					require.NoError(b, err)
				}
				take := func() {
					f, err := os.Open(file)
					require.NoError(b, err)
					defer f.Close()
					_, _, err = schooltest.New(b).Store.ImportSchool(ctx, f, size, moveKey, true, time.Now(), codes,
						quiet)
					require.NoError(b, err)
				}
				began := time.Now()
				export()
				b.ReportMetric(time.Since(began).Seconds(), "export-s")
				began = time.Now()
				take()
				b.ReportMetric(time.Since(began).Seconds(), "import-s")
				out, in := peak(export), peak(take)
				most := max(out, in)
				b.ReportMetric(float64(size)/1e6, "file-MB")
				b.ReportMetric(most/1e6, "peak-MB")
				if small == 0 {
					small = most
				} else {
					b.ReportMetric(most/small, "peak-ratio")
				}
			}
		})
	}
}

// peak is the most memory, in bytes, that was held while something ran, beyond
// what was held before: what each collection found to be in use.
func peak(run func()) float64 {
	defer debug.SetGCPercent(debug.SetGCPercent(10)) // so that it is looked at often
	live := func() uint64 {
		held := []metrics.Sample{{Name: "/gc/heap/live:bytes"}}
		metrics.Read(held)
		return held[0].Value.Uint64()
	}
	runtime.GC()
	before := live()
	var most, done atomic.Uint64
	stopped := make(chan struct{})
	go func() {
		defer close(stopped)
		for done.Load() == 0 {
			most.Store(max(most.Load(), live()))
			time.Sleep(5 * time.Millisecond)
		}
	}()
	run()
	done.Store(1)
	<-stopped
	return float64(most.Load()) - float64(before)
}
