# fish: completion for uvrek. Commands, options, files; names behind `explain` and `--layer`.

function __uvrek_commands
    uvrek --help 2>/dev/null | string replace -rf '^  ([a-z]+) .*' '$1'
end

function __uvrek_options
    set -l words (commandline -opc)
    uvrek $words[2] --help 2>/dev/null | string replace -rf '^  (?:-[a-z], )?(--[a-z-]+).*' '$1'
end

function __uvrek_names
    set -l file (commandline -opc | string match -e -r '\.uvk$')
    if test -n "$argv[1]"
        uvrek explain --list $file[1] 2>/dev/null | string replace -rf "^(\S+) +$argv[1]\$" '$1'
    else
        uvrek explain --list $file[1] 2>/dev/null | string replace -r ' .*' ''
    end
end

set -l none 'test (count (commandline -opc)) -eq 1'
complete -c uvrek -f -n $none -a '(__uvrek_commands)'
complete -c uvrek -n "not $none" -a '(__uvrek_options)'
complete -c uvrek -n '__fish_seen_argument -l layer' -l layer -x -a '(__uvrek_names layer)'
complete -c uvrek -f -n 'string match -q explain (commandline -opc)[2]; and test (count (commandline -opc)) -eq 2' -a '(__uvrek_names)'
complete -c uvrek -n 'string match -q import (commandline -opc)[2]' -k -a '(__fish_complete_suffix .json)'
complete -c uvrek -n "not $none" -k -a '(__fish_complete_suffix .uvk)'
