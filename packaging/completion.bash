# Completion for fair-gauge-cli. The words come from the program's own help, so that they are never out of date.
_fair_gauge_cli() {
  local current=${COMP_WORDS[COMP_CWORD]} program=${COMP_WORDS[0]} word command=() help
  COMPREPLY=()
  # Words up to the cursor that are commands: budget, or parts forward.
  for word in "${COMP_WORDS[@]:1:COMP_CWORD-1}"; do
    [[ $word == -* ]] && break
    command+=("$word")
  done
  help=$("$program" "${command[@]}" --help 2>/dev/null) || return 0
  if [[ $current == -* ]]; then
    mapfile -t COMPREPLY < <(compgen -W "$(grep -oE -- '(^|[ ,])--?[a-z][a-z0-9-]*' <<<"$help" | tr -d ' ,')" -- "$current")
  elif (( ${#command[@]} == COMP_CWORD - 1 )) && [[ $help == *Subcommands:* ]]; then
    mapfile -t COMPREPLY < <(compgen -W "$(sed -n '/^Subcommands:/,$p' <<<"$help" | awk '/^  [a-z]/ {print $1}')" -- "$current")
  else
    mapfile -t COMPREPLY < <(compgen -f -- "$current")
  fi
}
complete -o filenames -F _fair_gauge_cli fair-gauge-cli
