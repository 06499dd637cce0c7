# The verb `completion`: what a shell may complete, made from the verbs themselves.

cli_completion <- function(files, options) {
  shell <- one_word(empty_to(files, "bash")[1], "shell", c("bash", "zsh", "fish"), "bash")
  verbs <- registered("verb")
  writeLines(switch(shell,
    bash = bash_completion(verbs),
    zsh = zsh_completion(verbs),
    fish = fish_completion(verbs)
  ))
  0L
}

long_options <- function(verb) paste0("--", names(options_of(verb)))

bash_completion <- function(verbs) {
  cases <- vapply(verbs, function(verb) {
    paste0("    ", verb$name, ") options=\"", paste(long_options(verb), collapse = " "), "\" ;;")
  }, "")
  c(
    "# bash completion: honestmargin completion bash > ~/.local/share/bash-completion/completions/honestmargin",
    "_honestmargin() {", "  local current=\"${COMP_WORDS[COMP_CWORD]}\" options=\"\"",
    "  if [ \"$COMP_CWORD\" -eq 1 ]; then",
    paste0("    COMPREPLY=($(compgen -W \"", paste(names(verbs), collapse = " "), "\" -- \"$current\"))"),
    "    return", "  fi", "  case \"${COMP_WORDS[1]}\" in", unname(cases), "  esac",
    "  case \"$current\" in", "    -*) COMPREPLY=($(compgen -W \"$options\" -- \"$current\")) ;;",
    "    *) COMPREPLY=($(compgen -f -- \"$current\")) ;;", "  esac", "}",
    "complete -o filenames -F _honestmargin honestmargin"
  )
}

# what it is about, in quotes that each of these shells takes
quoted_about <- function(text) paste0("'", gsub("'", "\u2019", gsub("[\\[\\]:]", " ", text, perl = TRUE)), "'")

zsh_completion <- function(verbs) {
  about <- vapply(verbs, function(v) quoted_about(paste0(v$name, "\u0001", v$about)), "")
  cases <- vapply(verbs, function(verb) {
    paste0("    ", verb$name, ") compadd -- ", paste(long_options(verb), collapse = " "), " ;;")
  }, "")
  c(
    "#compdef honestmargin",
    "# zsh completion: honestmargin completion zsh > a file _honestmargin in a folder of $fpath",
    "_honestmargin() {", "  if (( CURRENT == 2 )); then", "    local -a verbs",
    paste0("    verbs=(", paste(gsub("\u0001", ":", about), collapse = " "), ")"), "    _describe verb verbs",
    "    return", "  fi", "  if [[ $words[CURRENT] != -* ]]; then", "    _files", "    return", "  fi",
    "  case $words[2] in", unname(cases), "  esac", "}", "_honestmargin \"$@\""
  )
}

fish_completion <- function(verbs) {
  c(
    "# fish completion: honestmargin completion fish > ~/.config/fish/completions/honestmargin.fish",
    unlist(lapply(verbs, function(verb) {
      shapes <- options_of(verb)
      c(
        paste0("complete -c honestmargin -n __fish_use_subcommand -a ", verb$name, " -d ", quoted_about(verb$about)),
        paste0(
          "complete -c honestmargin -n '__fish_seen_subcommand_from ", verb$name, "' -l ", names(shapes),
          ifelse(vapply(shapes, function(s) identical(s$action, "store_true"), NA), "", " -r"), " -d ",
          vapply(shapes, function(s) quoted_about(s$help), "")
        )
      )
    }), use.names = FALSE)
  )
}

register("verb", "completion",
  takes = "[bash|zsh|fish]", files = c(0, 1), run = cli_completion,
  examples = c(
    "completion bash",
    "completion fish"
  ),
  about = "Print what a shell needs to complete verbs and options.", rank = 40
)
