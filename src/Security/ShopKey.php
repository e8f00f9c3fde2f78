<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\DataFolder;
use Geschenk\App\Refusal;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\PasswordCost;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * The key of the shop, for whoever starts it: a passphrase that is asked for, or a file. Of a passphrase a file is made
 * that lies in memory for as long as the shop runs.
 */
final readonly class ShopKey
{
    /** Letters of a passphrase that nobody guesses soon. */
    public const LEAST = 12;

    public function __construct(
        private DataFolder $data,
        #[Autowire('%env(GESCHENK_KEY_FILE)%')] private string $file,
        private PasswordCost $cost = new PasswordCost(),
    ) {
    }

    public function isMade(): bool
    {
        return $this->ring($this->file)->isMade();
    }

    /** Whether somebody has named a file with it. */
    public function isInFile(): bool
    {
        return '' !== $this->file;
    }

    /** @throws KeyFailure */
    public function isPassphrase(): bool
    {
        return $this->ring($this->file)->isUnderPassphrase();
    }

    /**
     * Whether the file that was named opens what is kept here; the first one that is named is the shop's from then on.
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function takeFile(): void
    {
        $ring = $this->ring($this->file);
        $ring->isMade() ? $ring->ensureOpen() : $ring->make();
    }

    /**
     * @param string $into a file in memory, for those who are started now
     *
     * @throws KeyFailure
     * @throws Refusal    where it is too short to be the first
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function takePassphrase(#[\SensitiveParameter] string $passphrase, string $into): void
    {
        $ring = $this->ring($into);
        $isMade = $ring->isMade();
        $salt = $isMade ? null : PasswordCost::salt();
        if (!$isMade) {
            self::ensureLong($passphrase);
        }
        Disk::put($into, $ring->ofPassphrase($passphrase, $salt));
        try {
            $isMade ? $ring->ensureOpen() : $ring->make($salt);
        } catch (KeyFailure $failure) {
            unlink($into);
            throw $failure;
        }
    }

    /**
     * From now on the shop's key is told by another passphrase. Nothing else is written anew.
     *
     * @param string $now a file that holds what it is told by until then
     *
     * @throws KeyFailure
     * @throws Refusal
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function changeToPassphrase(string $now, #[\SensitiveParameter] string $passphrase): void
    {
        self::ensureLong($passphrase);
        $ring = $this->ring($now);
        $salt = PasswordCost::salt();
        $ring->tellAnew(new ToldKey($ring->ofPassphrase($passphrase, $salt)), $salt);
    }

    /**
     * The same, by a file; one that is not there is made.
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function changeToFile(string $now, string $file): void
    {
        $ring = $this->ring($now);
        $ring->ensureOpen();
        if (!file_exists($file)) {
            Disk::put($file, random_bytes(KeyFile::LEAST));
            chmod($file, 0o600);
        }
        $ring->tellAnew(new KeyFile($file));
    }

    /** The file that was named. */
    public function file(): string
    {
        return $this->file;
    }

    private function ring(string $file): Keyring
    {
        return new Keyring($this->data->keys(), new KeyFile($file), $this->cost);
    }

    private static function ensureLong(#[\SensitiveParameter] string $passphrase): void
    {
        if (mb_strlen($passphrase) < self::LEAST) {
            throw Refusal::because('passphrase_short', ['least' => self::LEAST]);
        }
    }
}
