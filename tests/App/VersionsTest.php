<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use PHPUnit\Framework\TestCase;

/** The same packages everywhere: each one that is installed has its version written down, those that come along too. */
final class VersionsTest extends TestCase
{
    public function testEachPackageOfPhpHasItsVersionWrittenDown(): void
    {
        $root = dirname(__DIR__, 2);
        $written = [];
        $lists = ['composer.json', 'config/versions/shop/composer.json', 'config/versions/dev/composer.json'];
        foreach ($lists as $file) {
            foreach (['require', 'require-dev'] as $part) {
                foreach (self::read("$root/$file")[$part] ?? [] as $name => $version) {
                    $name = (string) $name;
                    self::assertArrayNotHasKey($name, $written, 'Once is enough.');
                    $written[$name] = $version;
                }
            }
        }
        $installed = [];
        foreach (self::read("$root/vendor/composer/installed.json")['packages'] ?? [] as $package) {
            self::assertIsArray($package);
            self::assertIsString($package['name']);
            self::assertIsString($package['version']);
            $installed[$package['name']] = ltrim($package['version'], 'v');
        }
        // The platform itself is what it is.
        $written = array_filter($written, static fn (string $n): bool => str_contains($n, '/'), \ARRAY_FILTER_USE_KEY);
        ksort($written);
        ksort($installed);
        self::assertSame($written, $installed);
        self::assertGreaterThan(100, count($installed));
    }

    public function testEachPackageOfTheFrontEndHasAHash(): void
    {
        $packages = self::read(dirname(__DIR__, 2).'/package-lock.json')['packages'] ?? [];
        self::assertGreaterThan(300, count($packages));
        foreach ($packages as $name => $package) {
            self::assertIsArray($package);
            $isOurs = '' === $name;
            self::assertTrue($isOurs || is_string($package['integrity'] ?? null), "$name has none.");
        }
    }

    /** @return array<array-key, array<array-key, mixed>> */
    private static function read(string $path): array
    {
        $told = json_decode((string) file_get_contents($path), true, 512, \JSON_THROW_ON_ERROR);
        self::assertIsArray($told);

        return array_filter($told, is_array(...));
    }
}
