// Prints those of the files named whose syntax the compiler of Java refuses, one a line.
// Usage: java java_syntax.java FILE...

import com.sun.source.util.JavacTask;
import java.util.List;
import javax.tools.Diagnostic;
import javax.tools.DiagnosticCollector;
import javax.tools.JavaCompiler;
import javax.tools.JavaFileObject;
import javax.tools.StandardJavaFileManager;
import javax.tools.ToolProvider;

class JavaSyntax {
    public static void main(String[] paths) throws Exception {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        for (String path : paths) {
            DiagnosticCollector<JavaFileObject> messages = new DiagnosticCollector<>();
            try (StandardJavaFileManager files = compiler.getStandardFileManager(messages, null, null)) {
                var units = files.getJavaFileObjects(path);
                List<String> options = List.of("-proc:none");
                ((JavacTask) compiler.getTask(null, files, messages, options, null, units)).parse();
            }
            var kinds = messages.getDiagnostics().stream().map(Diagnostic::getKind);
            if (kinds.anyMatch(Diagnostic.Kind.ERROR::equals)) {
                System.out.println(path);
            }
        }
    }
}
