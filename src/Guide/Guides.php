<?php

declare(strict_types=1);

namespace Geschenk\App\Guide;

use Geschenk\App\DataFolder;
use Geschenk\Core\Phone\PhoneState;
use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Contracts\Cache\CacheInterface;

/**
 * Where on a phone something is switched: data, a file for a platform, a maker and a range of versions
 * (docs/guides.md). A shop's own, in its data folder, come before those that are shipped.
 *
 * @phpstan-type Picture array{screen: string, row?: int, times?: int, to?: string, answer?: string}
 * @phpstan-type GuideStep array{say: array<string, string>, picture: Picture}
 * @phpstan-type Guide array{
 *     platform: string, maker?: string, from: string, below?: string, points: array<string, list<GuideStep>>,
 * }
 */
final readonly class Guides
{
    /** Bytes: more than any honest one has. */
    private const LARGEST = 200_000;
    private const SCHEMA = '/docs/guides.schema.json';

    public function __construct(
        #[Autowire('%kernel.project_dir%')] private string $project,
        private DataFolder $data,
        private CacheInterface $cache,
        private LoggerInterface $logger,
    ) {
    }

    /** @return array<string, list<GuideStep>> the ways that are known for a phone, by id of a point of readiness */
    public function of(PhoneState $phone): array
    {
        $ways = $ranks = [];
        foreach ($this->all() as $place => $guide) {
            if (!self::isFor($guide, $phone)) {
                continue;
            }
            // One for the maker before one for all, and then a shop's own before one that is shipped.
            $rank = (isset($guide['maker']) ? 2 : 0) + (str_starts_with($place, $this->shopsFolder()) ? 1 : 0);
            foreach ($guide['points'] as $point => $steps) {
                if ($rank > ($ranks[$point] ?? -1)) {
                    [$ways[$point], $ranks[$point]] = [$steps, $rank];
                }
            }
        }

        return $ways;
    }

    /** @return array<string, string|null> what is wrong with each file, by path; null where nothing is */
    public function check(): array
    {
        $found = [];
        foreach ($this->files() as $path) {
            [, $found[$path]] = $this->read($path);
        }

        return $found;
    }

    private function shopsFolder(): string
    {
        return $this->data->path.'/guides/';
    }

    /** @param Guide $guide */
    private static function isFor(array $guide, PhoneState $phone): bool
    {
        return $guide['platform'] === $phone->platform->value
            && (!isset($guide['maker']) || 0 === strcasecmp($guide['maker'], $phone->maker))
            && version_compare($phone->osVersion, $guide['from'], '>=')
            && (!isset($guide['below']) || version_compare($phone->osVersion, $guide['below'], '<'));
    }

    /** @return array<string, Guide> those that hold, by path */
    private function all(): array
    {
        $files = $this->files();
        $marks = array_map(
            static fn (string $path): string => $path.':'.filesize($path).':'.filemtime($path),
            [$this->project.self::SCHEMA, ...$files],
        );

        return $this->cache->get('guides.'.hash('xxh128', implode("\n", $marks)), function () use ($files): array {
            $guides = [];
            foreach ($files as $path) {
                [$guide, $wrong] = $this->read($path);
                if (null !== $guide) {
                    $guides[$path] = $guide;
                } else {
                    $this->logger->error('A guide can’t be used.', ['path' => $path, 'why' => $wrong]);
                }
            }

            return $guides;
        });
    }

    /** @return list<string> paths */
    private function files(): array
    {
        return [
            ...(glob($this->shopsFolder().'*.json') ?: []), ...(glob($this->project.'/guides/*.json') ?: []),
        ];
    }

    /** @return array{Guide, null}|array{null, string} the guide, or what is wrong with it */
    private function read(string $path): array
    {
        $text = @file_get_contents($path, length: self::LARGEST + 1);
        if (false === $text || strlen($text) > self::LARGEST) {
            return [null, 'not readable, or too large'];
        }
        try {
            $told = json_decode($text, false, 32, \JSON_THROW_ON_ERROR);
            $schema = (string) file_get_contents($this->project.self::SCHEMA);
            $error = (new Validator())->validate($told, $schema)->error();
            if (null !== $error) {
                return [null, (string) json_encode(
                    (new ErrorFormatter())->format($error, false), \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE,
                )];
            }
        } catch (\JsonException $malformed) {
            return [null, $malformed->getMessage()];
        }
        /** @var Guide $guide as the schema has it */
        $guide = json_decode($text, true, 32, \JSON_THROW_ON_ERROR);

        return [$guide, null];
    }
}
