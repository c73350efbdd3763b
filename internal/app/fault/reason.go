package fault

import (
	"fmt"
	"strings"
	"unicode/utf8"
)

// MaxReason bounds the reason of a decision, in characters; a plan's has less.
const (
	MaxReason     = 2000
	MaxPlanReason = 1000
)

// ReasonOf is why somebody did something, without space around it; none, or one that is too long, is a FieldError.
func ReasonOf(text string, most int) (string, error) {
	if text = strings.TrimSpace(text); text == "" || utf8.RuneCountInString(text) > most || !utf8.ValidString(text) {
		return "", Field("reason", Clip(text, 60), fmt.Sprintf("why, in up to %d characters", most))
	}
	return text, nil
}
