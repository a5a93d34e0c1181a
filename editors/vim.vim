" Yellow Trellis in Vim 9, by the plugin `lsp` (yegappan/lsp) or another generic client:
" tell it the command, the types of files, and which file marks the root of a code base.

call LspAddServer([#{
      \ name: 'yellow-trellis',
      \ filetype: ['python', 'javascript', 'typescript', 'java', 'go', 'rust', 'php', 'ruby',
      \   'toml'],
      \ path: 'ytr',
      \ args: ['lsp'],
      \ rootSearch: ['trellis.toml', 'pyproject.toml', '.git/'],
      \ }])
