//go:build js && wasm && !lesson

package main

import "maps"

// The module with everything has what the practice stand and the editors take besides.
func init() {
	maps.Copy(functions, map[string]any{
		"verify":       function(verify),
		"sheet":        function(sheet),
		"number":       function(number),
		"ask":          function(ask),
		"have":         function(have),
		"coverage":     function(coverage),
		"link":         function(link),
		"packProblems": function(packProblems),
		"beside":       function(beside),
		"decisions":    function(decisions),
		"decide":       function(decide),
		"tailor":       function(tailor),
		"problems":     function(problems),
		"differences":  function(differences),
		"slug":         function(slug),
		"standBegin":   function(standBegin),
		"standMake":    function(standMake),
		"standTrace":   function(standTrace),
		"standWatch":   function(standWatch),
		"standDo":      function(onStand(standDo)),
		"standFeed":    function(onStand(standFeed)),
		"standStep":    function(onStand(standStep)),
		"standBack":    function(onStand(standBack)),
		"standNext":    function(onStand(standNext)),
		"standPanel":   function(onStand(standPanel)),
		"standRead":    function(onStand(standRead)),
		"standDecide":  function(onStand(standDecide)),
		"standRun":     function(onStand(standRun)),
	})
}
