<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Platform;

/**
 * A stand-in phone on disk: phone.json is its state, data/<app>/ what its messengers keep, incoming/ what is staged.
 *
 * @phpstan-type App array{
 *     id: string, name: string, version: string, number: string|null, auto_backup?: bool, storage_allowed?: bool,
 *     opened?: bool, contacts_allowed?: bool, photos_allowed?: bool, signed_out?: bool, offers_cloud?: bool,
 *     sign_up?: array{number: string, wants: string}|null, pin?: string|null, backup_key?: string|null,
 * }
 * @phpstan-type Fault array{
 *     on: string, do: string, path?: string, after_bytes?: int, largest?: int, from?: float, to?: float, at?: int,
 *     percent?: int,
 * }
 * @phpstan-type State array{
 *     serial: string, maker: string, model: string, platform: value-of<Platform>, os_version: string, owner: string,
 *     plugged: bool, unlocked: bool, battery: int, developer_options: bool, debugging: bool, admitted: bool,
 *     storage_total: int, storage_other: int, cable_mb_s: float, apps: list<App>, faults: list<Fault>,
 *     lock_after?: int, managed?: bool, theft_lock?: bool, started_at?: int, starts?: int,
 *     storage_before?: int|null, sim?: string|null,
 * }
 */
final class PhoneFolder
{
    private const TYPES = [
        'serial' => 'string', 'maker' => 'string', 'model' => 'string', 'platform' => 'string',
        'os_version' => 'string', 'owner' => 'string', 'plugged' => 'bool', 'unlocked' => 'bool', 'battery' => 'int',
        'developer_options' => 'bool', 'debugging' => 'bool', 'admitted' => 'bool', 'storage_total' => 'int',
        'storage_other' => 'int', 'cable_mb_s' => 'float', 'apps' => 'array', 'faults' => 'array',
    ];

    /** @var array{text: string, state: State}|null what was read last: it is asked for with every piece that travels */
    private ?array $last = null;

    public function __construct(public readonly string $path)
    {
    }

    /** @param State $state */
    public static function make(string $path, array $state): self
    {
        Folder::make($path.'/data');
        // An address book with nobody in it.
        Folder::make($path.'/data/contacts');
        Disk::put($path.'/data/contacts/contacts.vcf', '');
        $phone = new self($path);
        $phone->write($state);

        return $phone;
    }

    /**
     * @return State
     *
     * @throws PhoneUnplugged when the phone is gone, or its state can't be read
     */
    public function state(): array
    {
        $text = (string) @file_get_contents($this->path.'/phone.json');
        if (null !== $this->last && $text === $this->last['text']) {
            return $this->last['state'];
        }
        $state = json_decode($text, true, 16);
        if (!is_array($state) || [] !== array_diff_key(
            self::TYPES,
            array_filter(
                $state,
                static fn (mixed $value, int|string $name): bool => get_debug_type($value) === (self::TYPES[$name]
                    ?? null) || ('float' === (self::TYPES[$name] ?? null) && is_int($value)),
                \ARRAY_FILTER_USE_BOTH,
            ),
        ) || !is_string($state['platform']) || null === Platform::tryFrom($state['platform'])) {
            throw PhoneUnplugged::of(basename($this->path));
        }
        /** @var State $state written by this class alone, and of these types */
        $this->last = ['text' => $text, 'state' => $state];

        return $state;
    }

    /**
     * Does something that only one may do at a time, whoever else looks at the phone meanwhile.
     *
     * @param callable(): void $act
     */
    public function alone(callable $act): void
    {
        $lock = Disk::open($this->path.'/swap.lock', 'c');
        if (!flock($lock, \LOCK_EX)) {
            throw new \RuntimeException(sprintf('The stand-in phone at %s can\'t be locked.', $this->path));
        }
        try {
            $act();
        } finally {
            fclose($lock);
        }
    }

    /**
     * Changes the state under a lock, so that two hands at the same phone don't lose each other's work.
     *
     * @param callable(State): State $change
     *
     * @return State
     */
    public function change(callable $change): array
    {
        $lock = fopen($this->path.'/lock', 'c');
        if (false === $lock || !flock($lock, \LOCK_EX)) {
            throw new \RuntimeException(sprintf('The stand-in phone at %s can\'t be locked.', $this->path));
        }
        $state = $change($this->state());
        $this->write($state);
        fclose($lock);

        return $state;
    }

    /** Where an app's data is; between two renames of a swap that power cut short, that is where it was before. */
    public function data(string $app): string
    {
        $data = $this->path.'/data/'.$app;
        clearstatcache(true, $data);

        return !is_dir($data) && is_dir($this->old($app)) ? $this->old($app) : $data;
    }

    public function old(string $app): string
    {
        return $this->path.'/old-'.$app;
    }

    public function stage(string $app, string $stage): string
    {
        return $this->path.'/incoming/'.$app.'/'.$stage;
    }

    /** Bytes that the messengers' data and the stages take. */
    public function used(): int
    {
        return Storage::bytes($this->path.'/data') + Storage::bytes($this->path.'/incoming', false);
    }

    /** @param State $state */
    private function write(array $state): void
    {
        Disk::put(
            $this->path.'/phone.json',
            json_encode(
                $state, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_THROW_ON_ERROR,
            ),
        );
    }
}
