"""The types of the package ``java.lang``, which all code in Java sees, by its documentation."""

from __future__ import annotations

from yellow_trellis.languages.language import kinds

JAVA_LANG = kinds(
    "AbstractMethodError Appendable ArithmeticException ArrayIndexOutOfBoundsException "
    "ArrayStoreException AssertionError AutoCloseable Boolean Byte CharSequence Character Class "
    "ClassCastException ClassLoader ClassNotFoundException CloneNotSupportedException Cloneable "
    "Comparable Deprecated Double Enum Error Exception FunctionalInterface IllegalAccessException "
    "IllegalArgumentException IllegalStateException IndexOutOfBoundsException "
    "InheritableThreadLocal InstantiationException Integer InternalError InterruptedException "
    "Iterable LinkageError Long Math Module NegativeArraySizeException NoClassDefFoundError "
    "NoSuchFieldException NoSuchMethodException NullPointerException Number "
    "NumberFormatException Object OutOfMemoryError Override Package Process ProcessBuilder "
    "ProcessHandle Readable Record ReflectiveOperationException Runnable Runtime RuntimeException "
    "SafeVarargs SecurityException SecurityManager Short StackOverflowError StackTraceElement "
    "StackWalker StrictMath String StringBuffer StringBuilder StringIndexOutOfBoundsException "
    "SuppressWarnings System Thread ThreadDeath ThreadGroup ThreadLocal Throwable "
    "UnsupportedClassVersionError UnsupportedOperationException VerifyError VirtualMachineError "
    "Void"
)
