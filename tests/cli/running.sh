# running.sh - what tests do with a running keyboard: `bench KEYMAP [OPTION ...]` switches it on, with
# its memory in a file, `off` takes the power away; `live` speaks with it, `type` presses keys, `consent` those
# that it asks for. A terminal program runs behind `screen`: `press` types, `shown` waits for what it
# shows, `picture` prints that.
export XDG_STATE_HOME=$SCRATCH/state

# until the text WHAT is in FILE
seen() {
    N=0
    until grep -q -e "$1" "$2"; do
        N=$((N + 1))
        test $N -lt 3000 || { echo "'$1' was not seen in $2:" >&2; tail -n 5 "$2" >&2; exit 9; }
        sleep 0.01
    done
}

bench() {
    rm -f typed bench # one that is left of a test that failed writes elsewhere
    : > bench
    mkfifo typed
    KEYMAP=$1
    shift
    { uvrek bench --usbip ${PORT:-0} --memory memory $ROAD "$@" $KEYMAP.uvk < typed > bench 2>&1 & }
    B=$!
    exec 7> typed
    seen 'server is at port' bench
    AT=$(sed -n 's/^a USB.IP server is at port //p' bench)
}

# STEP is true a moment later
look() {
    LOOKED=$((${LOOKED:-0} + 1))
    printf 'wait 100ms\n%s\n' "$1" >&7
    N=0
    until test $(grep -c '^passed' bench) -ge $LOOKED; do
        N=$((N + 1))
        ! grep -E '^failed|error' bench && test $N -lt 3000 || exit 9
        sleep 0.01
    done
}

off() {
    exec 7>&-
    wait $B
    tail -n 1 bench
}

live() { uvrek live --at $AT "$@"; }
type() { printf 'tap %s\n' "$@" >&7; }

# the keys that the file `asked` asks for; false: one of them is BROKEN (a pattern), and another key was
# pressed
asked_keys() {
    seen 'typed nowhere' asked
    KEYS=$(grep -oE '^  [^ ]* \(|, [^ ]* \(' asked | tr -d ' (,')
    if test -n "$1" && echo "$KEYS" | grep -qE "$1"; then
        test "${KEYS%%[!a-z0-9.]*}" != $2 || type $2 # that is what it asks for; then it is the wrong one
        type $2
        return 1
    fi
    type $KEYS
}

# FILE [BROKEN WORKS]: asked again until none of the BROKEN keys is among them
consent() {
    asked_again=0
    while
        : > asked
        : > watched
        { uvrek live --at $AT open $1 > opened 2> asked & }
        O=$!
        ! asked_keys "${2:-}" "${3:-}"
    do
        wait $O
        asked_again=$((asked_again + 1))
        test $asked_again -lt 30 || exit 9
    done
    wait $O
}

terminal() { tmux -L "uvrek$$" -f /dev/null "$@"; }

# COLUMNS LINES COMMAND; its standard error is in `asked`, its status in `ended`
screen() {
    : > asked
    rm -f ended
    trap 'terminal kill-server 2>/dev/null' EXIT
    LC_ALL=C.UTF-8 TERM=screen terminal -u new-session -d -x $1 -y $2 "$3 2> asked; echo \$? > ended" 7>&-
}

press() { terminal send-keys "$@"; }
picture() { terminal capture-pane -p; }

shown() {
    N=0
    until picture | grep -q -e "$1"; do
        N=$((N + 1))
        test $N -lt 1000 || { picture | tail -n 12 >&2; exit 9; }
        sleep 0.02
    done
}

ended() {
    N=0
    until test -s ended; do
        N=$((N + 1))
        test $N -lt 1000 || exit 9
        sleep 0.02
    done
    cat ended
}

# what has been typed so far is done, and nothing more comes into FILE, by the keyboard's clock and
# by the computer's: either may be the slow one
told() {
    size=none
    quiet=0
    until test $quiet -ge 3; do
        look 'expect keys nothing'
        sleep 0.1
        before=$size
        size=$(wc -c < $1)
        quiet=$((quiet + 1))
        test $size = $before || quiet=0
    done
}

# `uvrek keys FILE`: each of KEYS is pressed, =NAME turns a knob both ways; then it is told to end
try_keys() {
    FILE=$1
    shift
    : > tried
    { uvrek keys --at $AT $FILE > tried 2>&1 7>&- & }
    K=$!
    seen 'Press every key' tried
    at=0
    for key in "$@"; do
        case $key in
        =*) printf 'turn %s +1\nwait 50ms\nturn %s -1\n' ${key#=} ${key#=} >&7 ;;
        *) type $key ;;
        esac
        at=$((at + 1))
        test $((at % 4)) -ne 0 || told tried # or the keyboard could not remember them all
    done
    told tried
    kill -INT $K 2> /dev/null
    wait $K
}

# `uvrek wires OPTIONS`: each question is answered by the next word: a key, =NAME a knob, - nothing
# comes, a word with a dash before it is typed
answer_wires() {
    OPTIONS=$1
    shift
    rm -f answers
    mkfifo answers
    : > learned
    { uvrek wires --at $AT $OPTIONS > learned 2>&1 < answers 7>&- & }
    K=$!
    exec 8> answers
    at=0
    for word in "$@"; do
        at=$((at + 1))
        seen "^$at of" learned
        case $word in
        =*) echo "turn ${word#=} +1" >&7 ;;
        -) echo >&8 ;;
        *) type $word ;;
        esac
    done
    wait $K
}
