<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Licences;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * What ships with the application and is somebody else's: PHP packages without those of development, and what the
 * interface is built of, with all that these need in turn.
 */
final readonly class Shipped
{
    private const TEXTS = '/^(licen[cs]e|copying|notice|ofl)/i';

    public function __construct(#[Autowire('%kernel.project_dir%')] private string $root)
    {
    }

    /**
     * @return list<array{name: string, version: string, licences: list<string>, texts: list<string>}> by name; some
     *         bring the name of their licence alone, and no text
     *
     * @throws \UnexpectedValueException where something ships without a licence
     */
    public function all(): array
    {
        $all = [...$this->ofComposer(), ...$this->ofNpm()];
        usort($all, static fn (array $one, array $other): int => [
            $one['name'], $one['version'],
        ] <=> [$other['name'], $other['version']]);
        foreach ($all as $one) {
            if ([] === $one['licences']) {
                throw new \UnexpectedValueException(sprintf('%s ships without a licence.', $one['name']));
            }
        }

        return $all;
    }

    /** @return list<array{name: string, version: string, licences: list<string>, texts: list<string>}> */
    private function ofComposer(): array
    {
        $installed = self::read($this->root.'/vendor/composer/installed.json');
        $development = array_flip(self::words($installed['dev-package-names'] ?? []));
        $found = [];
        foreach ((array) ($installed['packages'] ?? []) as $package) {
            $name = is_array($package) && is_string($package['name'] ?? null) ? $package['name'] : '';
            // Our own are no more than lists of versions.
            if (!is_array($package) || isset($development[$name]) || str_starts_with($name, 'geschenk/')) {
                continue;
            }
            $version = is_string($package['version'] ?? null) ? ltrim($package['version'], 'v') : '';
            $found[] = [
                'name' => $name, 'version' => $version, 'licences' => self::words($package['license'] ?? []),
                'texts' => self::texts($this->root.'/vendor/'.$name),
            ];
        }

        return $found;
    }

    /** @return list<array{name: string, version: string, licences: list<string>, texts: list<string>}> */
    private function ofNpm(): array
    {
        $own = self::read($this->root.'/package.json');
        $wanted = array_map(
            fn (string $name): array => [$name, $this->root], array_keys((array) ($own['dependencies'] ?? [])),
        );
        $found = [];
        while ([] !== $wanted) {
            [$name, $by] = array_shift($wanted);
            $folder = $this->resolve($name, $by);
            if (null === $folder || isset($found[$folder])) {
                continue;
            }
            $package = self::read($folder.'/package.json');
            $found[$folder] = [
                'name' => $name, 'version' => is_string($package['version'] ?? null) ? $package['version'] : '',
                'licences' => self::words($package['license'] ?? []), 'texts' => self::texts($folder),
            ];
            foreach (array_keys((array) ($package['dependencies'] ?? [])) as $needed) {
                $wanted[] = [(string) $needed, $folder];
            }
        }

        return array_values($found);
    }

    /** Where a package that another needs lies: beside what that one has of its own, or further up. */
    private function resolve(string $name, string $by): ?string
    {
        for ($folder = $by; strlen($folder) >= strlen($this->root); $folder = dirname($folder)) {
            if (is_file($folder.'/node_modules/'.$name.'/package.json')) {
                return $folder.'/node_modules/'.$name;
            }
        }

        return null;
    }

    /** @return list<string> */
    private static function texts(string $folder): array
    {
        $texts = [];
        foreach ((array) scandir($folder) as $file) {
            if (1 === preg_match(self::TEXTS, (string) $file) && is_file($folder.'/'.$file)) {
                $texts[] = trim(str_replace("\r", '', (string) file_get_contents($folder.'/'.$file)));
            }
        }

        return $texts;
    }

    /** @return array<array-key, mixed> */
    private static function read(string $path): array
    {
        $told = json_decode((string) file_get_contents($path), true, 64, \JSON_THROW_ON_ERROR);

        return is_array($told) ? $told : throw new \UnexpectedValueException($path.' is no list.');
    }

    /** @return list<string> */
    private static function words(mixed $told): array
    {
        return array_values(array_filter((array) $told, is_string(...)));
    }
}
