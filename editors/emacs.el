;;; Yellow Trellis in Emacs by its client `eglot`, which Emacs 29 has and earlier ones install.
;;; M-x eglot starts it; C-c . offers the fixes of the place under the cursor.

(with-eval-after-load 'eglot
  (add-to-list 'eglot-server-programs
               '((python-mode python-ts-mode js-mode js-ts-mode typescript-ts-mode java-mode
                  java-ts-mode csharp-mode c-mode c++-mode go-ts-mode rust-ts-mode ruby-mode
                  php-mode pascal-mode conf-toml-mode toml-ts-mode)
                 . ("ytr" "lsp")))
  (define-key eglot-mode-map (kbd "C-c .") #'eglot-code-actions))
