# Builds the site: the reference and every article, into site/. Nothing is fetched.
# The pages under docs/ are the articles; they are taken in here, so that they stand in one place only.
source_dir <- getwd()
work <- file.path(tempfile("site-"), "honestmargin")
files <- system2("git", c("ls-files", "--cached", "--others", "--exclude-standard"), stdout = TRUE)
files <- files[file.exists(files)]
for (folder in unique(dirname(file.path(work, files)))) dir.create(folder, recursive = TRUE, showWarnings = FALSE)
invisible(file.copy(files, file.path(work, files)))
setwd(work)

# words behind a fence are for our own tests
bare_fences <- function(lines) sub("^```(sh|r|yaml) [a-z-]+$", "```\\1", lines)

articles <- file.path("vignettes", "articles")
dir.create(articles)
for (page in list.files("docs", pattern = "[.]md$", full.names = TRUE)) {
  lines <- readLines(page, warn = FALSE)
  title <- sub("^# +", "", lines[startsWith(lines, "# ")][1])
  lines <- lines[-which(startsWith(lines, "# "))[1]]
  lines <- gsub("\\]\\(([a-z-]+)[.]md", "](\\1.html", bare_fences(lines))
  lines <- gsub("](../", "](https://honestmargin.example/", lines, fixed = TRUE)
  writeLines(
    c("---", paste0("title: ", dQuote(title, FALSE)), "---", "", lines),
    file.path(articles, sub("[.]md$", ".Rmd", basename(page)))
  )
}
invisible(file.copy(file.path("docs", "screenshots"), articles, recursive = TRUE))
readme <- bare_fences(readLines("README.md", warn = FALSE))
writeLines(gsub("\\(docs/([a-z-]+)[.]md", "(articles/\\1.html", readme), "README.md")

# `{arm}` looks like the name of a package, which would be looked up at CRAN: no list is asked
utils::assignInNamespace("CRAN_urls", function() list(Package = character(), URL = character()), "downlit")
options(pkgdown.internet = FALSE)
pkgdown::init_site()
pkgdown::build_home(preview = FALSE, quiet = TRUE)
pkgdown::build_reference(preview = FALSE, lazy = FALSE, document = FALSE)
pkgdown::build_articles(preview = FALSE, quiet = TRUE)
pkgdown::build_news(preview = FALSE)
pkgdown::build_search()
dir.create(file.path("site", "docs"), showWarnings = FALSE)
invisible(file.copy(file.path("docs", "screenshots"), file.path("site", "docs"), recursive = TRUE))
target <- file.path(source_dir, "site")
unlink(target, recursive = TRUE)
invisible(file.copy("site", source_dir, recursive = TRUE))
message("the site: ", file.path(target, "index.html"))
