package checklist

// OutOfOrder says which entries of a sequence are out of order: those outside
// a longest increasing subsequence, so that as few as possible are blamed. Of
// equally long ones those that came first are kept, so that of two swapped
// entries the late one is blamed. With repeats, equal neighbours count as in order (a non-decreasing subsequence).
func OutOfOrder(values []int, repeats bool) []bool {
	after := func(a, b int) bool { return b > a || repeats && b == a }
	n := len(values)
	// longest[i] is the length of a longest such subsequence that starts at i.
	longest := make([]int, n)
	most := 0
	for i := n - 1; i >= 0; i-- {
		longest[i] = 1
		for j := i + 1; j < n; j++ {
			if after(values[i], values[j]) {
				longest[i] = max(longest[i], longest[j]+1)
			}
		}
		most = max(most, longest[i])
	}
	blamed := make([]bool, n)
	for i := range blamed {
		blamed[i] = true
	}
	last := -1
	for need := most; need > 0; need-- {
		for i := last + 1; i < n; i++ {
			if longest[i] == need && (last < 0 || after(values[last], values[i])) {
				blamed[i], last = false, i
				break
			}
		}
	}
	return blamed
}
