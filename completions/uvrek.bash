# bash: completion for uvrek. Commands, options, files; names behind `explain` and `--layer`.

# The commands, as `uvrek --help` lists them.
_uvrek_commands() {
    uvrek --help 2>/dev/null | sed -n 's/^  \([a-z]*\) .*/\1/p'
}

_uvrek_options() { # COMMAND
    uvrek "$1" --help 2>/dev/null | sed -n 's/^  \(-[a-z], \)\{0,1\}\(--[a-z-]*\).*/\2/p'
}

# The keymap among the words so far.
_uvrek_file() {
    local word
    for word in "${COMP_WORDS[@]:2}"; do
        case $word in
        *.uvk) [ -r "$word" ] && printf '%s' "$word" && return ;;
        esac
    done
}

_uvrek_names() { # KIND or nothing for all
    local file
    file=$(_uvrek_file)
    uvrek explain --list ${file:+"$file"} 2>/dev/null |
        if [ -n "$1" ]; then sed -n "s/^\([^ ]*\) *$1\$/\1/p"; else sed 's/ .*//'; fi
}

_uvrek() {
    local now=${COMP_WORDS[COMP_CWORD]}
    local before=${COMP_WORDS[COMP_CWORD - 1]}
    local command=${COMP_WORDS[1]}

    COMPREPLY=()
    if [ "$COMP_CWORD" -eq 1 ]; then
        mapfile -t COMPREPLY < <(compgen -W "$(_uvrek_commands)" -- "$now")
    elif [ "$before" = --layer ]; then
        mapfile -t COMPREPLY < <(compgen -W "$(_uvrek_names layer)" -- "$now")
    elif [ "$before" = --tempo ]; then
        mapfile -t COMPREPLY < <(compgen -W "slow steady fast racing" -- "$now")
    elif [[ $now == -* ]]; then
        mapfile -t COMPREPLY < <(compgen -W "$(_uvrek_options "$command")" -- "$now")
    elif [ "$command" = explain ] && [ "$COMP_CWORD" -eq 2 ]; then
        mapfile -t COMPREPLY < <(compgen -W "$(_uvrek_names)" -- "$now")
    else
        local end='uvk'
        [ "$command" = import ] && end='json'
        mapfile -t COMPREPLY < <(compgen -f -X "!*.$end" -- "$now"; compgen -d -S / -- "$now")
        [ "${#COMPREPLY[@]}" -eq 1 ] && [[ ${COMPREPLY[0]} == */ ]] && compopt -o nospace
    fi
}
complete -F _uvrek uvrek
