# Every job of the project. `make demo` and `make test` do all set-up themselves.
R = Rscript --vanilla
RUN = PATH="$$(cat .setup/path 2>/dev/null):$$PATH"

# fresh: the README's two commands on a bare Debian; windows: the compiled code against Windows' headers
.PHONY: setup demo live test try fresh windows trials check lint style docs bench calibrate screenshots site demo-data
setup:
	@$(R) tools/setup.R run
	@$(R) tools/install.R
	@$(R) tools/vignettes.R
demo: setup
	@$(RUN) honestmargin demo demo-output
test:
	@$(R) tools/setup.R run test
	@$(R) tools/install.R
	@$(RUN) $(R) tools/test.R
try:
	@$(R) tools/try.R $(OF)
fresh:
	@sh tools/fresh.sh
windows:
	@sh tools/windows.sh
trials:
	@$(R) tools/setup.R run test
	@$(R) tools/install.R
	@$(RUN) $(R) tools/trials.R
check:
	@$(R) tools/setup.R run test docs
	@$(R) tools/check.R
lint:
	@$(R) tools/setup.R lint
	@$(R) -e 'found <- lintr::lint_package(); print(found); quit(status = length(found) > 0)'
style:
	@$(R) tools/setup.R docs
	@$(R) -e 'for (d in c("R", "tests", "tools", "bench")) styler::style_dir(d, exclude_files = "RcppExports.R")'
docs:
	@$(R) tools/setup.R run docs
	@PKG_BUILD_EXTRA_FLAGS=false $(R) -e 'Rcpp::compileAttributes(".")' -e 'suppressMessages(roxygen2::roxygenise("."))'
	@PKG_BUILD_EXTRA_FLAGS=false $(R) tools/make-reference.R
	@$(R) tools/install.R
	@$(R) tools/make-answers.R
	@$(R) tools/make-rooms.R
bench: setup
	@$(RUN) $(R) bench/bench.R
calibrate: setup
	@$(R) tools/setup.R calibrate
	@$(R) bench/calibrate.R 4000
	@$(R) bench/searches.R 12500
	@$(R) bench/checks.R 4000
	@HONESTMARGIN_SIMULATED=4 $(R) tools/test.R 'calibration|verdict-(promise|anchor)|study-(events|floor|overall|together|frames|against|memory)|search-read'
screenshots:
	@$(R) tools/setup.R run shots
	@$(R) tools/install.R
	@$(RUN) sh tools/screenshots.sh
site:
	@$(R) tools/setup.R run docs site
	@$(R) tools/install.R
	@$(R) tools/make-site.R
demo-data:
	@$(R) tools/setup.R run docs
	@$(R) tools/make-demo-data.R
