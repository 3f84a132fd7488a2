package weather

import (
	"regexp"
	"strconv"
	"strings"

	"jetprimer/core/quantity"
)

// Report is what an aerodrome's weather report says, in the international form
// (WMO No. 306, FM 15). What is not said is nil or empty; what is not
// understood is kept in Unknown.
type Report struct {
	Station string `json:"station"`
	Day     *int   `json:"day"`
	// Time is UTC, written hh:mm.
	Time      string `json:"time"`
	Automatic bool   `json:"automatic"`
	Wind      *Wind  `json:"wind"`
	// VisibilityM is in metres, 10000 meaning that and more.
	VisibilityM *int     `json:"visibilityM"`
	Cavok       bool     `json:"cavok"`
	Weather     []string `json:"weather"`
	Clouds      []Cloud  `json:"clouds"`
	// CeilingFt is the lowest broken, overcast or obscured layer above ground.
	CeilingFt *int `json:"ceilingFt"`
	OATC      *int `json:"oatC"`
	DewPointC *int `json:"dewPointC"`
	// QNHHPa is in hPa to one decimal, AltimeterInHg in inHg to two; the one
	// that is not said is computed, 1 inHg = 33.8638866667 hPa.
	QNHHPa        *quantity.Value `json:"qnhHPa"`
	AltimeterInHg *quantity.Value `json:"altimeterInHg"`
	// Trend and Remarks are kept as they were written.
	Trend   string   `json:"trend"`
	Remarks string   `json:"remarks"`
	Unknown []string `json:"unknown"`
}

// Wind of a report, in whole knots and degrees true.
type Wind struct {
	// DirectionDeg is where it comes from; nil when it is variable or calm.
	DirectionDeg *int `json:"directionDeg"`
	SpeedKt      int  `json:"speedKt"`
	GustKt       *int `json:"gustKt"`
	Variable     bool `json:"variable"`
	Calm         bool `json:"calm"`
	// FromDeg and ToDeg bound a direction that varies.
	FromDeg *int `json:"fromDeg"`
	ToDeg   *int `json:"toDeg"`
}

// Cloud is one layer: its amount and its height above ground.
type Cloud struct {
	Amount string `json:"amount"`
	BaseFt *int   `json:"baseFt"`
	Kind   string `json:"kind"`
}

var (
	stationGroup    = regexp.MustCompile(`^[A-Z][A-Z0-9]{3}$`)
	timeGroup       = regexp.MustCompile(`^(\d\d)(\d\d)(\d\d)Z$`)
	windGroup       = regexp.MustCompile(`^(\d{3}|VRB)(\d{2,3})(?:G(\d{2,3}))?(KT|MPS)$`)
	varyingGroup    = regexp.MustCompile(`^(\d{3})V(\d{3})$`)
	metresGroup     = regexp.MustCompile(`^(\d{4})(?:NDV)?$`)
	milesGroup      = regexp.MustCompile(`^([PM])?(?:(\d{1,2})|(\d)/(\d{1,2}))SM$`)
	weatherGroup    = regexp.MustCompile(`^(?:[+-]|VC)?(?:MI|PR|BC|DR|BL|SH|TS|FZ)*(?:DZ|RA|SN|SG|IC|PL|GR|GS|UP|BR|FG|FU|VA|DU|SA|HZ|PO|SQ|FC|SS|DS)*$`)
	cloudGroup      = regexp.MustCompile(`^(FEW|SCT|BKN|OVC|VV)(\d{3}|///)(CB|TCU|///)?$`)
	temperatures    = regexp.MustCompile(`^(M?\d\d)/(M?\d\d)?$`)
	qnhGroup        = regexp.MustCompile(`^Q(\d{4})$`)
	altimeterGroup  = regexp.MustCompile(`^A(\d{4})$`)
	maxGroups       = 200
	metresPerMile   = 1609.344
	knotsPerMPS     = 1.943844 // 3600 / 1852
	hpaPerInchTimes = int64(338_638_866_667)
)

// ParseReport reads a weather report. Nothing in it is fatal: what is not
// understood is listed.
func ParseReport(text string) Report {
	r := Report{Weather: []string{}, Clouds: []Cloud{}, Unknown: []string{}}
	groups := strings.Fields(strings.ToUpper(strings.TrimRight(strings.TrimSpace(text), "=")))
	if len(groups) > maxGroups {
		groups = groups[:maxGroups]
	}
	p := reportParser{Report: &r}
	for i := 0; i < len(groups); i++ {
		g := groups[i]
		switch {
		case g == "RMK":
			r.Remarks = strings.Join(groups[i+1:], " ")
			p.finish()
			return r
		case g == "NOSIG" || g == "BECMG" || g == "TEMPO":
			end := i + 1
			for end < len(groups) && groups[end] != "RMK" {
				end++
			}
			r.Trend = strings.Join(groups[i:end], " ")
			i = end - 1
		case p.mixedMiles(groups, i):
			i++
		case !p.group(g):
			r.Unknown = append(r.Unknown, g)
		}
	}
	p.finish()
	return r
}

type reportParser struct{ *Report }

// group takes one group in, and reports whether it was understood.
func (p reportParser) group(g string) bool {
	switch {
	case g == "METAR" || g == "SPECI" || g == "COR":
		return p.Time == ""
	case g == "AUTO":
		p.Automatic = true
	case p.Station == "" && stationGroup.MatchString(g):
		p.Station = g
	case p.Time == "" && timeGroup.MatchString(g):
		return p.moment(timeGroup.FindStringSubmatch(g))
	case p.Wind == nil && windGroup.MatchString(g):
		return p.wind(windGroup.FindStringSubmatch(g))
	case p.Wind != nil && p.Wind.FromDeg == nil && varyingGroup.MatchString(g):
		m := varyingGroup.FindStringSubmatch(g)
		from, to := number(m[1]), number(m[2])
		if from > 360 || to > 360 {
			return false
		}
		p.Wind.FromDeg, p.Wind.ToDeg = &from, &to
	case g == "CAVOK":
		far := 10000
		p.Cavok, p.VisibilityM = true, &far
	case p.VisibilityM == nil && metresGroup.MatchString(g):
		m := number(metresGroup.FindStringSubmatch(g)[1])
		if m == 9999 {
			m = 10000
		}
		p.VisibilityM = &m
	case p.VisibilityM == nil && milesGroup.MatchString(g):
		return p.miles(0, milesGroup.FindStringSubmatch(g))
	default:
		return p.sky(g)
	}
	return true
}

// sky takes the groups from weather on.
func (p reportParser) sky(g string) bool {
	switch {
	case cloudGroup.MatchString(g):
		m := cloudGroup.FindStringSubmatch(g)
		c := Cloud{Amount: m[1], Kind: strings.Trim(m[3], "/")}
		if m[2] != "///" {
			base := number(m[2]) * 100
			c.BaseFt = &base
		}
		p.Clouds = append(p.Clouds, c)
	case g == "SKC" || g == "CLR" || g == "NSC" || g == "NCD":
		p.Clouds = append(p.Clouds, Cloud{Amount: g})
	case p.OATC == nil && temperatures.MatchString(g):
		m := temperatures.FindStringSubmatch(g)
		oat := celsius(m[1])
		p.OATC = &oat
		if m[2] != "" {
			dew := celsius(m[2])
			p.DewPointC = &dew
		}
	case p.QNHHPa == nil && qnhGroup.MatchString(g):
		n := number(qnhGroup.FindStringSubmatch(g)[1])
		if n < 850 || n > 1090 {
			return false
		}
		v := quantity.Scaled(int64(n)*10, 1)
		p.QNHHPa = &v
	case p.AltimeterInHg == nil && altimeterGroup.MatchString(g):
		n := number(altimeterGroup.FindStringSubmatch(g)[1])
		if n < 2500 || n > 3300 {
			return false
		}
		v := quantity.Scaled(int64(n), 2)
		p.AltimeterInHg = &v
	case g == "NSW" || len(g) > 1 && weatherGroup.MatchString(g):
		p.Weather = append(p.Weather, g)
	default:
		return false
	}
	return true
}

func (p reportParser) moment(m []string) bool {
	day := number(m[1])
	if day < 1 || day > 31 || number(m[2]) > 23 || number(m[3]) > 59 {
		return false
	}
	p.Day, p.Time = &day, m[2]+":"+m[3]
	return true
}

func (p reportParser) wind(m []string) bool {
	knots := func(text string) int {
		n := number(text)
		if m[4] == "MPS" {
			n = int(float64(n)*knotsPerMPS + 0.5)
		}
		return n
	}
	w := Wind{SpeedKt: knots(m[2]), Variable: m[1] == "VRB"}
	if m[3] != "" {
		gust := knots(m[3])
		w.GustKt = &gust
	}
	if !w.Variable {
		from := number(m[1])
		if from > 360 {
			return false
		}
		w.Calm = w.SpeedKt == 0 && w.GustKt == nil
		if !w.Calm {
			w.DirectionDeg = &from
		}
	}
	p.Wind = &w
	return true
}

// mixedMiles takes a visibility such as 1 1/2SM, which is two groups.
func (p reportParser) mixedMiles(groups []string, i int) bool {
	if p.VisibilityM != nil || p.Wind == nil || i+1 >= len(groups) || len(groups[i]) != 1 || groups[i][0] < '1' || groups[i][0] > '9' {
		return false
	}
	m := milesGroup.FindStringSubmatch(groups[i+1])
	return m != nil && m[3] != "" && m[1] == "" && p.miles(float64(groups[i][0]-'0'), m)
}

func (p reportParser) miles(whole float64, m []string) bool {
	miles := whole
	if m[2] != "" {
		miles += float64(number(m[2]))
	} else {
		below := number(m[4])
		if below == 0 {
			return false
		}
		miles += float64(number(m[3])) / float64(below)
	}
	metres := int(miles*metresPerMile + 0.5)
	if metres > 10000 || m[1] == "P" && metres > 9000 {
		metres = 10000
	}
	p.VisibilityM = &metres
	return true
}

// finish computes what follows from the rest.
func (p reportParser) finish() {
	for _, c := range p.Clouds {
		covers := c.Amount == "BKN" || c.Amount == "OVC" || c.Amount == "VV"
		if covers && c.BaseFt != nil && (p.CeilingFt == nil || *c.BaseFt < *p.CeilingFt) {
			base := *c.BaseFt
			p.CeilingFt = &base
		}
	}
	switch {
	case p.QNHHPa == nil && p.AltimeterInHg != nil:
		hundredths, _ := p.AltimeterInHg.Units()
		v := quantity.Scaled((hundredths*hpaPerInchTimes+50_000_000_000)/100_000_000_000, 1)
		p.QNHHPa = &v
	case p.AltimeterInHg == nil && p.QNHHPa != nil:
		tenths, _ := p.QNHHPa.Units()
		v := quantity.Scaled((tenths*100_000_000_000+hpaPerInchTimes/2)/hpaPerInchTimes, 2)
		p.AltimeterInHg = &v
	}
}

// number reads digits that an expression has checked.
func number(digits string) int {
	n, _ := strconv.Atoi(digits)
	return n
}

func celsius(text string) int {
	if minus, below := strings.CutPrefix(text, "M"); below {
		return -number(minus)
	}
	return number(text)
}
