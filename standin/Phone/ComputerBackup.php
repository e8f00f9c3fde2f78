<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\WholePhone\Head;
use Geschenk\Core\Messenger\WholePhone\IndexSchema;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;

/**
 * The computer at somebody's home that backs up their whole phone, again and again, into one folder: every app's files,
 * content that is the same once. docs/formats/phone-backup.md
 */
final readonly class ComputerBackup
{
    private ScratchFolder $scratch;
    private string $id;
    private ContentKey $indexKey;
    private string $nameKey;

    /** @param string|null $password that it lies under; null leaves it open */
    public function __construct(private string $folder, #[\SensitiveParameter] private ?string $password = null)
    {
        $this->scratch = ScratchFolder::make();
        $this->id = bin2hex(random_bytes(16));
        $this->indexKey = ContentKey::random(Cipher::SecretStream);
        $this->nameKey = random_bytes(32);
        $index = Database::create($this->index());
        $index->execute('PRAGMA journal_mode = DELETE;'.implode(';', IndexSchema::TABLES));
        $index->insert('backup', ['id' => $this->id]);
        $index->close();
    }

    /** @param int|null $endedMs null where it was broken off */
    public function take(PhoneFolder $phone, int $begunMs, ?int $endedMs): void
    {
        $index = Database::create($this->index());
        $index->execute('PRAGMA journal_mode = DELETE; BEGIN');
        $taken = $index->insert('taken', ['begun_ms' => $begunMs, 'ended_ms' => $endedMs]);
        foreach (glob($phone->path.'/data/*', \GLOB_ONLYDIR) ?: [] as $data) {
            $name = basename($data);
            $app = array_values(array_filter(
                $phone->state()['apps'], static fn (array $one): bool => $one['id'] === $name,
            ))[0] ?? null;
            $id = $index->insert('app', [
                'taken_id' => $taken, 'name' => $name, 'title' => $app['name'] ?? null,
                'version' => $app['version'] ?? null,
            ]);
            foreach (Folder::files($data) as $path) {
                $key = null === $this->password ? null : ContentKey::random(Cipher::SecretStream);
                [$content, $sha256, $key] = $this->keep($index, $data.'/'.$path, $key);
                $index->insert('file', [
                    'app_id' => $id, 'path' => $path, 'changed_ms' => 1000 * (int) filemtime($data.'/'.$path),
                    'content' => $content, 'bytes' => (int) filesize($data.'/'.$path), 'sha256' => $sha256,
                    'key' => null === $key ? null : new Blob($key->bytes),
                ]);
            }
        }
        $index->execute('COMMIT');
        $index->close();
        $this->finish($phone);
    }

    /** @return array{string, string, ContentKey|null} name of the content, its hash, what opens it */
    private function keep(Database $index, string $file, ?ContentKey $key): array
    {
        $sha256 = Disk::sha256($file);
        // Under a password not even the names tell what is the same elsewhere.
        $name = null === $key ? $sha256 : hash_hmac('sha256', $sha256, $this->nameKey);
        $to = sprintf('%s/%s/%s/%s', $this->folder, Head::CONTENT, substr($name, 0, 2), $name);
        if (is_file($to)) {
            $known = $index->one('SELECT key FROM file WHERE content = ? LIMIT 1', [$name])?->nullableText('key');

            return [$name, $sha256, null === $known ? null : new ContentKey(Cipher::SecretStream, $known)];
        }
        Folder::make(dirname($to));
        $this->write($file, $to, $key);

        return [$name, $sha256, $key];
    }

    /** The index and the head, as they are from now on. */
    private function finish(PhoneFolder $phone): void
    {
        $isOpen = null === $this->password;
        $index = $this->folder.'/'.($isOpen ? Head::OPEN_INDEX : Head::LOCKED_INDEX);
        $this->write($this->index(), $index, $isOpen ? null : $this->indexKey);
        $state = $phone->state();
        Disk::put($this->folder.'/'.Head::FILE, json_encode([
            'phone_backup' => Head::VERSION, 'id' => $this->id, 'index_sha256' => Disk::sha256($index),
            'phone' => [
                'maker' => $state['maker'], 'model' => $state['model'], 'platform' => $state['platform'],
                'os_version' => $state['os_version'],
            ],
            'lock' => $isOpen ? null : Head::newLock($this->id, BackupKey::of($this->password), $this->indexKey),
        ], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE));
    }

    private function write(string $from, string $to, ?ContentKey $key): void
    {
        $source = Disk::open($from, 'r');
        $target = Disk::open($to.'.part', 'w');
        foreach (null === $key ? [] : LockedContent::lock($source, $key) as $piece) {
            Disk::write($target, $piece, $to);
        }
        null !== $key ?: Disk::copy($source, $target, $to);
        fclose($source);
        Disk::close($target, $to);
        Disk::move($to.'.part', $to);
    }

    private function index(): string
    {
        return $this->scratch->path.'/'.Head::OPEN_INDEX;
    }
}
