<?php

declare(strict_types=1);

namespace Geschenk\App\Files;

use Doctrine\ORM\Exception\ORMException;
use Geschenk\App\Refusal;
use Geschenk\Core\Failure;
use Geschenk\Core\UnusableInput;

/** A file that the shop has made itself and can't read any more: said as that, and its place on the disk to nobody. */
final class OwnFile
{
    /** What SQLite says of a file that is damaged has no type of its own. */
    private const DAMAGED = '/malformed|not a database|no such (table|column)|disk I\/O error/';

    /**
     * @template T
     *
     * @param string        $spoilt what is said then, of the catalogues' "failure"
     * @param callable(): T $read
     *
     * @return T
     *
     * @throws Refusal
     */
    public static function read(string $spoilt, callable $read): mixed
    {
        try {
            return $read();
        } catch (UnusableInput) {
            throw Refusal::because($spoilt);
        } catch (Failure|ORMException $failure) {
            throw $failure;
        } catch (\Exception $error) {
            throw 1 === preg_match(self::DAMAGED, $error->getMessage()) ? Refusal::because($spoilt) : $error;
        }
    }
}
