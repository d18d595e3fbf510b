package org.wedgecutter.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaMethodCall;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.lang.ArchCondition;
import java.io.File;
import java.io.OutputStream;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The order of the rooms: each package uses only those before it. */
class ArchitectureTest {
  private static final String ROOT = "org.wedgecutter.core.";
  private static final List<String> ORDER =
      List.of(
          "io",
          "mistake",
          "image",
          "scene",
          "scene.subdivision",
          "scene.gltf",
          "scene.usd.stage",
          "scene.usd",
          "scene.obj",
          "scene.files",
          "plan",
          "resolve",
          "match",
          "motion",
          "cut",
          "pass",
          "trace.sample",
          "trace.accel",
          "trace.world",
          "trace.bsdf",
          "trace.light",
          "trace.volume",
          "trace",
          "fragment",
          "load",
          "measure",
          "render",
          "rejoin",
          "proof",
          "check",
          "carry",
          "deliver",
          "deliver.file",
          "deliver.unit",
          "deliver.check",
          "export",
          "survey",
          "propose");
  private static JavaClasses classes;

  @BeforeAll
  static void read() {
    classes =
        new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("org.wedgecutter.core", "org.wedgecutter.exr");
  }

  @Test
  void packagesUseOnlyThoseBeforeThem() {
    for (int p = 0; p < ORDER.size(); p++) {
      String[] later =
          ORDER.subList(p + 1, ORDER.size()).stream()
              .map(name -> ROOT + name)
              .toArray(String[]::new);
      if (later.length > 0) {
        noClasses()
            .that()
            .resideInAPackage(ROOT + ORDER.get(p))
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(later)
            .check(classes);
      }
    }
  }

  @Test
  void everyPackageHasItsPlaceInTheOrder() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.core..")
        .should()
        .resideOutsideOfPackages(ORDER.stream().map(name -> ROOT + name).toArray(String[]::new))
        .check(classes);
  }

  @Test
  void theRoomsOfTheTracerAreItsOwn() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter..")
        .and()
        .resideOutsideOfPackages(ROOT + "trace", ROOT + "trace..")
        .should()
        .dependOnClassesThat()
        .resideInAPackage(ROOT + "trace.*..")
        .check(classes);
  }

  @Test
  void theCoreHasNoInterfaceCode() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("javafx..", "javax.swing..", "java.awt.event..")
        .check(classes);
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter..")
        .should()
        .dependOnClassesThat()
        .haveNameMatching("java\\.awt\\.(Window|Frame|Component|Toolkit|Robot)")
        .check(classes);
  }

  @Test
  void theExrModuleStandsAlone() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.exr..")
        .should()
        .dependOnClassesThat()
        .resideOutsideOfPackages("java..", "org.wedgecutter.exr..", "org.jspecify..")
        .check(classes);
  }

  @Test
  void filesAreOpenedAndChangedInOneRoomAlone() {
    DescribedPredicate<JavaMethodCall> writes =
        new DescribedPredicate<>("calls that open or change files") {
          @Override
          public boolean test(JavaMethodCall call) {
            String owner = call.getTargetOwner().getFullName();
            String name = call.getTarget().getName();
            var given = call.getTarget().getRawParameterTypes();
            boolean copiesOut =
                name.equals("copy")
                    && given.size() == 2
                    && given.getLast().isEquivalentTo(OutputStream.class);
            return (owner.equals(Files.class.getName())
                    && !copiesOut
                    && name.matches(
                        "read.*|lines|newInputStream|newBufferedReader|write|writeString|newOutputStream|newBufferedWriter|newByteChannel|move|copy|delete|deleteIfExists|create.*|set.*"))
                || (owner.equals(FileChannel.class.getName()) && name.equals("open"))
                || (owner.equals(File.class.getName())
                    && name.matches("delete.*|renameTo|mkdirs?|createNewFile"));
          }
        };
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.core..")
        .and()
        .resideOutsideOfPackage(ROOT + "io")
        .should(
            ArchCondition.from(
                new DescribedPredicate<JavaClass>("open or change files") {
                  @Override
                  public boolean test(JavaClass of) {
                    return of.getMethodCallsFromSelf().stream().anyMatch(writes);
                  }
                }))
        .check(classes);
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.core..")
        .should()
        .dependOnClassesThat()
        .haveNameMatching("java\\.io\\.(FileOutputStream|FileWriter|RandomAccessFile)")
        .check(classes);
  }
}
